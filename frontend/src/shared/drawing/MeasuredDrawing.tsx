/** The measured drawing: the mouth redrawn to scale over the rest face, with its dimensions. */
import { forwardRef } from "react";
import { Dimensions, type Value } from "./Dimensions";
import {
  Layout,
  holeOf,
  paths,
  shapeOf,
  type Drawing,
  type Ellipse,
  type Mouth,
} from "./layout";

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

/** Room for dimension lines, screen pixels; small drawings have none. */
const ROOM = {
  front: { left: 34, right: 34, top: 10, bottom: 44 },
  side: { left: 34, right: 34, top: 10, bottom: 16 },
};

export const MeasuredDrawing = forwardRef<SVGSVGElement, Props>(function MeasuredDrawing(
  { drawing, mouth, value, width, height, label },
  ref,
) {
  const layout = new Layout(drawing, width, height, ROOM[drawing.view]);
  return (
    <svg
      ref={ref}
      className="drawing figures"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={label}
      data-drawing={drawing.view}
    >
      <Zones layout={layout} />
      <Face layout={layout} mouth={mouth} />
      <Dimensions layout={layout} mouth={mouth} rest={shapeOf(drawing.rest)} value={value} />
    </svg>
  );
});

/** The same without dimensions: on chairs, slips and in a history. */
export function SmallDrawing({
  drawing,
  mouth,
  width,
  height,
}: Pick<Props, "drawing" | "mouth" | "width" | "height">) {
  const near = { ...drawing, box: mouthBox(drawing, mouth) };
  const layout = new Layout(near, width, height, { left: 3, right: 3, top: 3, bottom: 3 });
  return (
    <svg
      className="drawing"
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      aria-hidden
    >
      <Face layout={layout} mouth={mouth} thin />
    </svg>
  );
}

/** From the front the mouth alone, and the rim: all that can be told at this size. */
function mouthBox(drawing: Drawing, mouth: Mouth): number[] {
  if (drawing.view === "side") return drawing.box;
  const [, y = 0, half = 0, tall = 0] = mouth.rim ?? [];
  const wide = Math.max(0.62, half + 0.06);
  return [-wide, Math.min(-0.36, y - tall - 0.05), wide, Math.max(0.32, y + tall + 0.05)];
}

export function Zones({ layout }: { layout: Layout }) {
  return Object.entries(layout.drawing.zones)
    .filter(([name]) => name !== "rim")
    .map(([name, corners]) => (
      <polygon
        key={name}
        data-zone={name}
        points={corners.map(([x = 0, y = 0]) => layout.at([x, y]).join(",")).join(" ")}
        fill="var(--good)"
        fillOpacity={0.16}
        stroke="var(--good)"
        strokeOpacity={0.6}
      />
    ));
}

const WEIGHT = { lips: 2.6, skin: 1.5, thing: 4 };

export function Face({
  layout,
  mouth,
  thin = false,
}: {
  layout: Layout;
  mouth: Mouth;
  thin?: boolean;
}) {
  const rest = shapeOf(layout.drawing.rest);
  const resting: Mouth = { shape: rest, rim: null };
  const hole = holeOf(mouth.shape);
  const much = thin ? 0.55 : 1;
  return (
    <>
      <g fill="none" stroke="var(--faint)" strokeWidth={1.1 * much} strokeDasharray="4 3">
        {paths(layout, resting, rest)
          .filter(({ part }) => part !== "thing")
          .map(({ d }, n) => (
            <path key={n} d={d} />
          ))}
      </g>
      <g fill="none" stroke="var(--ink)" strokeLinecap="round" strokeLinejoin="round">
        {paths(layout, mouth, rest).map(({ part, d }, n) => (
          <path
            key={n}
            d={d}
            data-part={part}
            strokeWidth={WEIGHT[part] * much}
            stroke={part === "thing" ? "var(--brass)" : undefined}
          />
        ))}
      </g>
      {hole && (
        <Round
          layout={layout}
          ellipse={hole}
          fill="none"
          stroke="var(--brass)"
          width={2 * much}
        />
      )}
      {mouth.rim && <Rim layout={layout} rim={mouth.rim} much={much} />}
    </>
  );
}

function Round({
  layout,
  ellipse,
  fill,
  stroke,
  width,
}: {
  layout: Layout;
  ellipse: Ellipse;
  fill: string;
  stroke: string;
  width: number;
}) {
  const [x, y, rx, ry] = ellipse;
  const [cx, cy] = layout.at([x, y]);
  return (
    <ellipse
      cx={cx}
      cy={cy}
      rx={rx * layout.scale}
      ry={ry * layout.scale}
      fill={fill}
      stroke={stroke}
      strokeWidth={width}
    />
  );
}

/** The rim over the line of the lips, with the part of it where the school wants that line. */
function Rim({ layout, rim, much }: { layout: Layout; rim: Ellipse; much: number }) {
  const { zones, lip_line: line } = layout.drawing;
  const [x, y, rx, ry] = rim;
  const reach = rx * Math.sqrt(Math.max(0, 1 - ((line - y) / ry) ** 2));
  const [from, to] = [layout.at([x - reach, line]), layout.at([x + reach, line])];
  return (
    <g data-rim>
      <Round
        layout={layout}
        ellipse={rim}
        fill="var(--paper)"
        stroke="var(--brass)"
        width={3 * much}
      />
      {zones.rim && (
        <polygon
          data-zone="rim"
          points={zones.rim.map(([a = 0, b = 0]) => layout.at([a, b]).join(",")).join(" ")}
          fill="var(--good)"
          fillOpacity={0.22}
        />
      )}
      <path
        d={`M${from[0]} ${from[1]}L${to[0]} ${to[1]}`}
        stroke="var(--ink)"
        strokeWidth={1.8 * much}
        strokeDasharray="7 3"
      />
    </g>
  );
}
