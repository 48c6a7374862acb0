/** A frame on the common sheet with lines drawn over it: the picture and the drawing fit, since
 * both are in the same face frame. */
import { useId, useState } from "react";
import type { Pair, PairSide } from "../api/records";
import { Dimensions, type Value } from "../shared/drawing/Ink";
import { outlineOf } from "../shared/drawing/outline";
import {
  Layout,
  NO_MARGIN,
  mouthOf,
  type Dimension,
  type Drawing,
  type Mouth,
} from "../shared/drawing/figure";
import { t } from "../shared/words";

export interface Shot {
  side: PairSide;
  frame: PairSide["frames"][number];
}

export function shotOf(side: PairSide, number: number | null): Shot | null {
  const frame =
    side.frames.find((f) => f.frame === (number ?? side.proposed)) ?? side.frames[0];
  return frame ? { side, frame } : null;
}

/** Room under the picture for a dimension line that runs there, screen pixels. */
function below(drawing: Drawing, width: number, shown: (d: Dimension) => boolean): number {
  const [x0 = 0, , x1 = 1] = drawing.box;
  const under = drawing.dimensions.some((d) => shown(d) && d.label.place.y === "box:low");
  return under ? (width / (x1 - x0)) * (drawing.room[1] ?? 0) : 0;
}

/** Height of a picture of this width, without the room below. */
export function heightOf(drawing: Drawing, width: number): number {
  const [x0 = 0, y0 = 0, x1 = 1, y1 = 1] = drawing.box;
  return (width * (y1 - y0)) / (x1 - x0);
}

interface Props {
  pair: Pair;
  shot: Shot;
  width: number;
  label: string;
  /** Draw the mouth's own lines. */
  lines?: boolean;
  /** Another mouth as a ghost over it. */
  ghost?: Shot | null;
  /** Another picture over it: so much of it, or so far from the left. */
  over?: Shot | null;
  mix?: number;
  edge?: number | null;
}

export function Aligned({
  pair,
  shot,
  width,
  label,
  lines,
  ghost,
  over,
  mix = 0,
  edge = null,
}: Props) {
  const clip = useId();
  const { drawing } = shot.side;
  const tall = heightOf(drawing, width);
  const value = (measure: string) => toldBy(pair, shot.side, measure);
  const bottom = below(drawing, width, (d) => value(d.measure) !== null);
  const layout = new Layout(drawing, width, tall + bottom, { ...NO_MARGIN, bottom });
  const mouth = mouthOf(shot.frame.shape);
  return (
    <svg
      className="drawing figures aligned"
      viewBox={`0 0 ${width} ${tall + bottom}`}
      role="img"
      aria-label={label}
    >
      <Photograph href={shot.frame.picture} width={width} height={tall} />
      {over && (
        <>
          <clipPath id={clip}>
            <rect width={edge === null ? width : edge * width} height={tall} />
          </clipPath>
          <Photograph
            href={over.frame.picture}
            width={width}
            height={tall}
            clipPath={`url(#${clip})`}
            opacity={edge === null ? mix : 1}
          />
          {edge !== null && (
            <path d={`M${edge * width} 0V${tall}`} stroke="var(--paper)" strokeWidth={3} />
          )}
        </>
      )}
      {lines && <Lines layout={layout} mouth={mouth} />}
      {ghost && <Lines layout={layout} mouth={mouthOf(ghost.frame.shape)} ghost />}
      <Dimensions layout={layout} mouth={mouth} value={value} />
    </svg>
  );
}

interface PhotographProps {
  href: string;
  width: number;
  height: number;
  clipPath?: string;
  opacity?: number;
}

/** The picture; without it the lines still tell where the mouth was. */
function Photograph(props: PhotographProps) {
  const { href, width, height } = props;
  const [missing, setMissing] = useState<string | null>(null);
  if (missing === href)
    return (
      <>
        <rect width={width} height={height} fill="var(--zone)" />
        <text x={width / 2} y={24} textAnchor="middle" fontSize={15} fill="var(--ink)">
          {t("The picture can't be read. Analyse the take again.")}
        </text>
      </>
    );
  return <image {...props} onError={() => setMissing(href)} />;
}

const DRAWN = ["lips", "equipment", "rim"] as const;

function Lines({
  layout,
  mouth,
  ghost = false,
}: {
  layout: Layout;
  mouth: Mouth;
  ghost?: boolean;
}) {
  const drawn = outlineOf(layout, mouth, ghost ? [...DRAWN, "skin"] : DRAWN);
  // Light under dark, so that the line is seen on any skin and on metal.
  return [
    { stroke: "var(--under-line)", strokeWidth: 4.6, opacity: 0.75 },
    {
      stroke: "var(--over-picture)",
      strokeWidth: 1.8,
      strokeDasharray: ghost ? "7 4" : undefined,
    },
  ].map((pen, n) => (
    <g key={n} fill="none" strokeLinecap="round" {...pen} data-ghost={ghost || undefined}>
      {drawn.map((d, m) => (
        <path key={m} d={d} />
      ))}
    </g>
  ));
}

/** The value of the focus's dimension; all others are left out. */
export function toldBy(pair: Pair, side: PairSide, measure: string): Value | null {
  const first = pair.measures[0];
  const dimension = side.drawing.dimensions.find((d) => d.measure === measure);
  const asked =
    first !== undefined &&
    dimension !== undefined &&
    (dimension.measure === first || dimension.band === first);
  const reading = side.readings.find((r) => r.measure === measure);
  if (!asked || reading?.value == null) return null;
  return { value: reading.value, decimals: reading.decimals, unit: reading.unit, out: true };
}
