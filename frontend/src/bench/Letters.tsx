/** Boxed rehearsal letters over the staves: what the take is cut into. */
import { memo, type PointerEvent } from "react";
import type { Phase } from "../api/client";
import { titleOf, type PhaseName, type Span } from "./phases";
import { RIGHT, xOf, type Frame } from "./staves";
import { t } from "../shared/words";

export type Edge = { name: PhaseName; edge: "start" | "end"; nth: number };

interface Props {
  phases: Span[];
  /** As the server has them: which are guesses. */
  known: Phase[];
  place: Frame;
  begin: (event: PointerEvent, edge: Edge) => void;
}

export const Letters = memo(function Letters({ phases, known, place, begin }: Props) {
  return phases.map((phase, n) => (
    <Letter
      key={n}
      phase={phase}
      nth={n}
      title={titleOf(phases, phase)}
      guessed={known.some(
        (p) => p.name === phase.name && p.guessed && Math.abs(p.start - phase.start) < 0.01,
      )}
      place={place}
      begin={begin}
    />
  ));
});

/** A boxed letter; both edges can be dragged. */
function Letter({
  phase,
  nth,
  title,
  guessed,
  place,
  begin,
}: {
  phase: Span;
  nth: number;
  title: string;
  guessed: boolean;
  place: Frame;
  begin: Props["begin"];
}) {
  const from = xOf(place, phase.start);
  const to = xOf(place, phase.end);
  // A short phase shows its first letter and number; the whole word is in the tooltip.
  const whole = title.length * 8 + 14;
  const fits = to - from >= whole;
  const short = title.replace(/^(.)\S* ?/, "$1");
  const box = fits ? whole : 12 + 8 * short.length;
  return (
    <g data-phase={phase.name}>
      <line x1={from} x2={to} y1={25} y2={25} stroke="var(--ink)" strokeWidth={1.4} />
      <rect
        x={from}
        y={2}
        width={box}
        height={21}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={1.4}
        strokeDasharray={guessed ? "3 2" : undefined}
      />
      <text x={from + box / 2} y={17} fontSize={14} fontWeight={650} textAnchor="middle">
        {fits ? title : short}
        {guessed && <title>{t("“{{title}}” is estimated: drag its edges", { title })}</title>}
      </text>
      {(["start", "end"] as const).map((edge) => {
        const at = edge === "start" ? from : to;
        return (
          <g
            key={edge}
            className="letter"
            onPointerDown={(event) => begin(event, { name: phase.name, edge, nth })}
          >
            <title>
              {t("“{{title}}” {{verb}} here: drag", {
                title,
                verb: edge === "start" ? t("begins") : t("ends"),
              })}
            </title>
            <rect x={at - 8} y={0} width={16} height={30} fill="transparent" data-edge={edge} />
            <path d={`M${at} 20v10`} stroke="var(--ink)" strokeWidth={3} />
          </g>
        );
      })}
    </g>
  );
}

/** The two phases without which nothing is judged, while they are not set. */
export function MissingLetters({
  phases,
  place,
  set,
}: {
  phases: Span[];
  place: Frame;
  set: (name: PhaseName) => void;
}) {
  const missing = (["rest", "hold"] as const).filter((n) => !phases.some((p) => p.name === n));
  return missing.map((name, n) => (
    <g
      key={name}
      role="button"
      tabIndex={0}
      aria-label={t("Set {{name}} here", { name })}
      className="letter"
      style={{ cursor: "pointer" }}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={() => set(name)}
      onKeyDown={(event) => {
        if (event.key === "Enter") set(name);
      }}
    >
      <rect
        x={place.width - RIGHT + 8 + n * 82}
        y={2}
        width={76}
        height={22}
        fill="var(--sheet)"
        stroke="var(--brass)"
        strokeDasharray="4 3"
      />
      <text x={place.width - RIGHT + 46 + n * 82} y={17.5} fontSize={13} textAnchor="middle">
        {t("Set {{name}}", { name })}
      </text>
    </g>
  ));
}
