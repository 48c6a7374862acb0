/** The measured drawing: the mouth redrawn to scale over the rest face, with its dimensions. */
import { forwardRef, useContext } from "react";
import type { Schemas } from "../../api/client";
import { Dimensions, Strokes, type Value } from "./Ink";
import { Layout, NO_ROOM, anchorsOf, type Drawing, type Margin, type Mouth } from "./figure";
import { PageLines } from "./lines";

interface Props {
  drawing: Drawing;
  mouth: Mouth;
  /** What a measure says, if anything: its dimension is then drawn. */
  value: (measure: string) => Value | null;
  width: number;
  height: number;
  /** What the drawing shows, for those who can't see it. */
  label: string;
}

const MARGIN: Margin = { left: 8, right: 8, top: 10, bottom: 8 };
const SMALL: Margin = { left: 3, right: 3, top: 3, bottom: 3 };

export const MeasuredDrawing = forwardRef<SVGSVGElement, Props>(function MeasuredDrawing(
  { drawing, mouth, value, width, height, label },
  ref,
) {
  const layout = new Layout(drawing, width, height, MARGIN, drawing.room);
  return (
    <svg
      ref={ref}
      className="drawing figures"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={label}
      data-drawing={drawing.view}
    >
      <Face layout={layout} mouth={mouth} />
      <Dimensions layout={layout} mouth={mouth} value={value} />
    </svg>
  );
});

interface SmallProps {
  drawing: Schemas["MouthDrawing"];
  mouth: Mouth;
  width: number;
  height: number;
}

/** The same without dimensions, of the lines of its page: on chairs and in a history. */
export function SmallDrawing({ drawing, mouth, width, height }: SmallProps) {
  const lines = useContext(PageLines);
  const near: Drawing = {
    ...drawing,
    strokes: lines[drawing.view],
    dimensions: [],
    box: mouthBox(drawing, mouth),
    room: [...NO_ROOM],
    zones: {},
    mm: null,
  };
  const layout = new Layout(near, width, height, SMALL);
  return (
    <svg
      className="drawing"
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      aria-hidden
    >
      <Face layout={layout} mouth={mouth} much={0.55} />
    </svg>
  );
}

/** From the front the mouth alone, and the rim: all that can be told at this size. */
function mouthBox(drawing: Schemas["MouthDrawing"], { points }: Mouth): number[] {
  if (drawing.view === "side") return drawing.box;
  const { rim_side: side, rim_low: low, rim_top: top } = points;
  const wide = Math.max(0.62, side ? Math.abs(side[0]) + 0.06 : 0);
  return [
    -wide,
    Math.min(-0.36, low ? low[1] - 0.05 : 0),
    wide,
    Math.max(0.32, top ? top[1] + 0.05 : 0),
  ];
}

/** Zones, the rest face and the mouth over it. */
export function Face({ layout, mouth, much }: { layout: Layout; mouth: Mouth; much?: number }) {
  const { drawing } = layout;
  return (
    <Strokes
      layout={layout}
      anchors={anchorsOf(drawing, mouth)}
      strokes={drawing.strokes}
      much={much}
    />
  );
}
