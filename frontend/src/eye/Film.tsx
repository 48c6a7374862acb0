/** A loop of the library: moving, or held still with where to look drawn in. */
import { useEffect, useRef } from "react";
import type { Truth } from "../api/eye";

/** When the mouth is as it stays, s; where to look is told of that moment. */
const SHAPED = 1.4;
/** Radius of a ring about a place, shares of the picture. */
const RING = 0.035;

interface Props {
  src: string;
  label: string;
  /** Shown still at the moment that counts, with these places ringed. */
  marks?: Truth["marks"] | null;
  /** Played a single time. */
  once?: boolean;
  /** As small as from the front of a classroom. */
  far?: boolean;
  ended?: () => void;
}

export function Film({ src, label, marks = null, once = false, far = false, ended }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const still = marks !== null;
  useEffect(() => {
    const shown = video.current;
    if (!shown) return;
    if (still) {
      shown.pause();
      shown.currentTime = SHAPED;
      return;
    }
    shown.currentTime = 0;
    // A gallery has dozens: only those that are looked at move.
    const seen = new IntersectionObserver((entries) => {
      if (entries.at(-1)?.isIntersecting) void shown.play().catch(() => undefined);
      else shown.pause();
    });
    seen.observe(shown);
    return () => seen.disconnect();
  }, [still, src]);
  return (
    <div className="film" data-far={far || undefined}>
      <video
        ref={video}
        src={src}
        aria-label={label}
        muted
        playsInline
        preload="metadata"
        loop={!once && !still}
        onEnded={ended}
      />
      {marks && (
        <svg viewBox="0 0 1 1" aria-hidden>
          {marks.map(({ x, y }, n) => (
            <g key={n}>
              <circle className="halo" cx={x} cy={y} r={RING} />
              <circle cx={x} cy={y} r={RING} />
            </g>
          ))}
        </svg>
      )}
    </div>
  );
}
