/** A reed as it lies in its slot: what it has played is filled from the tip down. */
import type { Reed } from "../api/reeds";

const TALL = 64;
const BODY = "M4 63V9C4 4 8 1 14 1s10 3 10 8v54z";

export function ReedShape({ share, status }: Pick<Reed, "share" | "status">) {
  const played = Math.min(share, 1) * TALL;
  return (
    <svg width={28} height={TALL} viewBox={`0 0 28 ${TALL}`} aria-hidden className="reed-shape">
      <clipPath id={`played-${Math.round(played * 10)}`}>
        <rect width={28} height={played} />
      </clipPath>
      <path d={BODY} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.4} />
      <path
        d={BODY}
        fill="var(--brass)"
        fillOpacity={0.45}
        clipPath={`url(#played-${Math.round(played * 10)})`}
      />
      <path d="M4 30h20" stroke="var(--ink)" strokeWidth={0.8} />
      {status === "chipped" && (
        <path d="M15 0l3 7 4-5" fill="var(--paper)" stroke="var(--fault)" strokeWidth={1.8} />
      )}
      {status === "warped" && (
        <path d="M8 12c4 4 8-4 12 0" fill="none" stroke="var(--fault)" strokeWidth={1.8} />
      )}
      {status === "worn" && (
        <path d="M6 20 22 58M22 20 6 58" stroke="var(--fault)" strokeWidth={1.8} />
      )}
    </svg>
  );
}
