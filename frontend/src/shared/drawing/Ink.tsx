/** Strokes and labels on the screen: which pen looks how, and where a text finds room. */
import type { SVGAttributes } from "react";
import { figure, unitOf } from "../format";
import {
  anchorsOf,
  fits,
  pathOf,
  placeOf,
  resolved,
  type Anchors,
  type Dimension,
  type Layout,
  type Mouth,
  type Pen,
  type Stroke,
} from "./figure";

export interface Value {
  value: number;
  decimals: number;
  unit: string;
  /** Out of band: drawn heavy. */
  out: boolean;
}

const INK = "var(--ink)";
const BRASS = "var(--brass)";
const PENS: Record<Pen, SVGAttributes<SVGPathElement>> = {
  rest: { stroke: "var(--faint)", strokeWidth: 1.1, strokeDasharray: "4 3" },
  lips: { stroke: INK, strokeWidth: 2.6 },
  skin: { stroke: INK, strokeWidth: 1.5 },
  equipment: { stroke: BRASS, strokeWidth: 4 },
  rim: { stroke: BRASS, strokeWidth: 3, fill: "var(--paper)" },
  zone: { stroke: "var(--good)", strokeOpacity: 0.6, fill: "var(--good)", fillOpacity: 0.16 },
  axis: { stroke: BRASS, strokeWidth: 1.2, strokeDasharray: "9 3 2 3" },
  extension: { stroke: INK, strokeWidth: 0.8, opacity: 0.55 },
  dimension: { stroke: INK, strokeWidth: 1.1 },
  tick: { stroke: INK, strokeWidth: 1.8 },
  inside: { stroke: BRASS, strokeWidth: 3, strokeDasharray: "3 3" },
};
/** Pens that are heavier where a measure is out of band, and how heavy. */
const HEAVY: Partial<Record<Pen, number>> = { dimension: 2.6, axis: 1.8 };

interface StrokesProps {
  layout: Layout;
  anchors: Anchors;
  strokes: readonly Stroke[];
  /** How much of its weight a pen has. */
  much?: number;
  out?: boolean;
}

export function Strokes({ layout, anchors, strokes, much = 1, out = false }: StrokesProps) {
  return strokes.map((stroke, n) => {
    const places = resolved(stroke, anchors)?.map((place) => layout.at(place));
    if (!places) return null;
    const pen = PENS[stroke.pen];
    const width = (out && HEAVY[stroke.pen]) || Number(pen.strokeWidth ?? 1);
    return (
      <path
        key={n}
        data-pen={stroke.pen}
        d={pathOf(stroke, places)}
        fill="none"
        strokeLinecap="round"
        strokeLinejoin="round"
        {...pen}
        strokeWidth={width * much}
      />
    );
  });
}

interface DimensionsProps {
  layout: Layout;
  mouth: Mouth;
  value: (measure: string) => Value | null;
}

/** Dimension lines with their values; what is out of band is drawn heavy. */
export function Dimensions({ layout, mouth, value }: DimensionsProps) {
  const anchors = anchorsOf(layout.drawing, mouth);
  return layout.drawing.dimensions.map((dimension) => {
    const told = value(dimension.measure);
    if (!told || !(dimension.always || told.out)) return null;
    if (!fits(dimension, anchors, layout.drawing)) return null;
    return (
      <g
        key={dimension.measure}
        data-dimension={dimension.measure}
        data-out={told.out || undefined}
      >
        <Strokes layout={layout} anchors={anchors} strokes={dimension.strokes} out={told.out} />
        <Label layout={layout} anchors={anchors} dimension={dimension} told={told} />
      </g>
    );
  });
}

/** About how wide a letter of a label is, and how tall a line, px. */
const LETTER = 9;
const LINE = 16;

interface LabelProps {
  layout: Layout;
  anchors: Anchors;
  dimension: Dimension;
  told: Value;
}

/** A value at its place, moved as far as it takes to stand on the sheet. */
function Label({ layout, anchors, dimension, told }: LabelProps) {
  const place = placeOf(dimension.label.place, anchors);
  if (!place) return null;
  const { align } = dimension.label;
  const mirrored = layout.drawing.facing < 0 && align !== "middle";
  const anchor = mirrored ? (align === "start" ? "end" : "start") : align;
  const text = `${figure(told.value, told.decimals)}${unitOf(told.unit)}`;
  const wide = LETTER * text.length + 4;
  const before = anchor === "start" ? 0 : anchor === "end" ? wide : wide / 2;
  const [x, y] = layout.at(place);
  return (
    <text
      x={Math.min(Math.max(x, 4 + before), layout.width - 4 - wide + before)}
      y={Math.min(Math.max(y, LINE), layout.height - 4)}
      textAnchor={anchor}
      fontSize={LINE}
      fontWeight={told.out ? 720 : 520}
      fill={INK}
      stroke="var(--paper)"
      strokeWidth={4}
      paintOrder="stroke"
    >
      {text}
    </text>
  );
}
