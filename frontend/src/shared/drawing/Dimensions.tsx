/** Dimension lines with their values; what is out of band is drawn heavy. */
import type { ReactNode } from "react";
import { figure, unitOf } from "../format";
import {
  middleOf,
  pointOf,
  type Dimension,
  type Layout,
  type Mouth,
  type Place,
  type Shape,
} from "./layout";

export interface Value {
  value: number;
  decimals: number;
  unit: string;
  /** Out of band: drawn heavy. */
  out: boolean;
}

interface Props {
  layout: Layout;
  mouth: Mouth;
  rest: Shape;
  value: (measure: string) => Value | null;
}

/** Distance of the first dimension line from the face, and from one to the next, px. */
const FIRST = 20;
const NEXT = 22;

export function Dimensions({ layout, mouth, rest, value }: Props) {
  // One column or row after the other, so that lines never lie on each other.
  const taken = { left: 0, right: 0 };
  const rows: [number, number][][] = [];
  return layout.drawing.dimensions.map((dimension) => {
    const told = value(dimension.measure);
    if (!told || !(dimension.always || told.out)) return null;
    // A contour's ends may be covered: they are then where they were at rest.
    const ends = dimension.ends.map(
      (name) =>
        pointOf(mouth, rest, name) ??
        (dimension.kind === "behind" && !name.startsWith("cc_")
          ? rest.points[name]
          : undefined),
    );
    const places = ends.filter((p) => p !== undefined).map((p) => layout.at(p));
    // A contour may be seen in part; all others need their ends.
    if (dimension.kind !== "behind" && places.length < ends.length) return null;
    // What lies beyond the sheet has no line on it.
    if (places.some(([x]) => x < 0 || x > layout.width)) return null;
    const column = dimension.side < 0 ? "left" : "right";
    const row =
      dimension.kind === "across"
        ? freeRow(rows, places)
        : dimension.kind === "upright"
          ? taken[column]++
          : 0;
    const drawn = KINDS[dimension.kind]({ layout, mouth, rest, dimension, told, places, row });
    return (
      drawn && (
        <g
          key={dimension.measure}
          data-dimension={dimension.measure}
          data-out={told.out || undefined}
          stroke="var(--ink)"
          strokeWidth={told.out ? 2.6 : 1.1}
          fill="none"
        >
          {drawn}
        </g>
      )
    );
  });
}

/** The first row in which nothing lies where these places are. */
function freeRow(rows: [number, number][][], places: Place[]): number {
  const xs = places.map((p) => p[0]);
  const span: [number, number] = [Math.min(...xs) - 60, Math.max(...xs) + 60];
  const free = rows.findIndex((row) => row.every(([a, b]) => b < span[0] || a > span[1]));
  const row = free < 0 ? rows.length : free;
  rows[row] = [...(rows[row] ?? []), span];
  return row;
}

interface Drawn {
  layout: Layout;
  mouth: Mouth;
  rest: Shape;
  dimension: Dimension;
  told: Value;
  places: Place[];
  row: number;
}

type Kind = (drawn: Drawn) => ReactNode;

/** About how wide a letter of a label is, px. */
const LETTER = 9;

function Label({
  at,
  told,
  layout,
  anchor = "middle",
}: {
  at: Place;
  told: Value;
  layout: Layout;
  anchor?: "start" | "middle" | "end";
}) {
  const text = `${figure(told.value, told.decimals)}${unitOf(told.unit)}`;
  // Never off the sheet.
  const wide = LETTER * text.length + 4;
  const before = anchor === "start" ? 0 : anchor === "end" ? wide : wide / 2;
  const x = Math.min(Math.max(at[0], 4 + before), layout.width - 4 - wide + before);
  return (
    <text
      x={x}
      y={at[1]}
      textAnchor={anchor}
      fontSize={16}
      fontWeight={told.out ? 720 : 520}
      fill="var(--ink)"
      stroke="var(--paper)"
      strokeWidth={4}
      paintOrder="stroke"
    >
      {text}
    </text>
  );
}

/** The short strokes that end a dimension line. */
function Strokes({ at }: { at: Place[] }) {
  return at.map(([x, y], n) => (
    <path key={n} d={`M${x - 5} ${y + 5}l10 -10`} strokeWidth={1.8} />
  ));
}

/** Chain line: an axis that is thought, not seen. */
const CHAIN = { strokeWidth: 1, strokeDasharray: "9 3 2 3", stroke: "var(--brass)" };

const across: Kind = ({ layout, places, told, row }) => {
  const [a, b] = places as [Place, Place];
  const low = layout.ends().bottom + FIRST + row * NEXT;
  const tight = Math.abs(b[0] - a[0]) < 60;
  // Toward the middle of the sheet, where there is room.
  const toLeft = (a[0] + b[0]) / 2 > layout.width / 2;
  const aside = toLeft ? Math.min(a[0], b[0]) - 10 : Math.max(a[0], b[0]) + 10;
  return (
    <>
      {[a, b].map(([x, y], n) => (
        <path key={n} d={`M${x} ${y + 6}V${low + 6}`} strokeWidth={0.8} opacity={0.55} />
      ))}
      <path d={`M${a[0]} ${low}H${b[0]}`} />
      <Strokes
        at={[
          [a[0], low],
          [b[0], low],
        ]}
      />
      <Label
        at={tight ? [aside, low + 5] : [(a[0] + b[0]) / 2, low - 6]}
        anchor={!tight ? "middle" : toLeft ? "end" : "start"}
        told={told}
        layout={layout}
      />
    </>
  );
};

const upright: Kind = ({ layout, places, told, dimension, row }) => {
  const [a, b] = places as [Place, Place];
  const { left, right } = layout.ends();
  const x =
    dimension.side < 0
      ? Math.max(left - FIRST - row * NEXT, 8)
      : Math.min(right + FIRST + row * NEXT, layout.width - 8);
  const low = Math.max(a[1], b[1]);
  return (
    <>
      {[a, b].map(([from, y], n) => (
        <path key={n} d={`M${from} ${y}H${x}`} strokeWidth={0.7} opacity={0.5} />
      ))}
      <path d={`M${x} ${a[1]}V${b[1]}`} />
      <Strokes
        at={[
          [x, a[1]],
          [x, b[1]],
        ]}
      />
      <Label
        at={[x + (dimension.side < 0 ? -6 : 6), low + 19]}
        anchor={dimension.side < 0 ? "start" : "end"}
        told={told}
        layout={layout}
      />
    </>
  );
};

const rise: Kind = ({ layout, mouth, rest, places, told, dimension }) => {
  const middle = middleOf(mouth, rest);
  const [corner] = places;
  if (!middle || !corner) return null;
  const from = layout.at(middle);
  return (
    <>
      <path d={`M${from[0]} ${from[1]}L${corner[0]} ${corner[1]}`} {...CHAIN} />
      <circle cx={corner[0]} cy={corner[1]} r={3.6} fill="var(--ink)" stroke="none" />
      <Label
        at={[corner[0] + dimension.side * 11, corner[1] + 5]}
        anchor={dimension.side < 0 ? "end" : "start"}
        told={told}
        layout={layout}
      />
    </>
  );
};

const aside: Kind = ({ layout, places, told }) => {
  const middle = layout.at([0, 0])[0];
  const x = places.reduce((sum, p) => sum + p[0], 0) / places.length;
  const low = Math.max(...places.map((p) => p[1])) + 16;
  const top = layout.ends().top;
  return (
    <>
      <path d={`M${middle} ${top}V${low + 6}`} {...CHAIN} />
      <path d={`M${x} ${low - 12}V${low + 6}`} strokeWidth={0.8} />
      <path d={`M${middle} ${low}H${x}`} />
      <Label
        at={[Math.max(middle, x) + 9, low + 6]}
        anchor="start"
        told={told}
        layout={layout}
      />
    </>
  );
};

const share: Kind = ({ layout, mouth, told }) => {
  if (!mouth.rim) return null;
  const [x, y, , half] = mouth.rim;
  const [top, low] = [layout.at([x, y + half]), layout.at([x, y - half])];
  const line = layout.at([x, layout.drawing.lip_line])[1];
  return (
    <>
      <path d={`M${top[0]} ${top[1]}V${low[1]}`} {...CHAIN} />
      <path d={`M${top[0]} ${top[1]}V${line}`} />
      <Strokes at={[top, [top[0], line]]} />
      <Label
        at={[top[0] + 10, (top[1] + line) / 2 + 5]}
        anchor="start"
        told={told}
        layout={layout}
      />
    </>
  );
};

const tilt: Kind = ({ layout, places, told }) => {
  const [a, b] = places as [Place, Place];
  const [left, right] = a[0] < b[0] ? [a, b] : [b, a];
  return (
    <>
      <path d={`M${left[0]} ${left[1]}H${right[0]}`} {...CHAIN} />
      <Label
        at={[right[0] - 4, Math.max(left[1], right[1]) + 20]}
        anchor="end"
        told={told}
        layout={layout}
      />
    </>
  );
};

/** How long the face's vertical is drawn beside what leans against it, px. */
const VERTICAL = 74;

const lean: Kind = ({ layout, places, told }) => {
  const [a] = places as [Place, Place];
  const angle = (told.value * Math.PI) / 180;
  const turn = layout.drawing.facing;
  const reach = 0.62 * VERTICAL;
  const end: Place = [a[0] + turn * reach * Math.sin(angle), a[1] + reach * Math.cos(angle)];
  return (
    <>
      <path d={`M${a[0]} ${a[1]}V${a[1] + VERTICAL}`} {...CHAIN} />
      <path
        d={`M${a[0]} ${a[1] + reach}A${reach} ${reach} 0 0 ${turn > 0 ? 0 : 1} ${end[0]} ${end[1]}`}
      />
      <Label
        at={[a[0] + turn * 10, a[1] + reach + 18]}
        anchor={turn > 0 ? "start" : "end"}
        told={told}
        layout={layout}
      />
    </>
  );
};

const behind: Kind = ({ layout, places, told }) => {
  const [a, b, ...contour] = places;
  if (!a || !b || contour.length === 0) return null;
  const long = Math.hypot(b[0] - a[0], b[1] - a[1]);
  const way = [(b[0] - a[0]) / long, (b[1] - a[1]) / long] as const;
  const facing = layout.drawing.facing;
  const off = (p: Place) => facing * ((p[1] - a[1]) * way[0] - (p[0] - a[0]) * way[1]);
  const along = (p: Place) => (p[0] - a[0]) * way[0] + (p[1] - a[1]) * way[1];
  const inside = contour.filter((p) => along(p) > 0 && along(p) < long);
  const wanted = told.value >= 0 ? 1 : -1;
  const deepest = inside.sort((p, q) => wanted * (off(q) - off(p)))[0];
  if (!deepest) return null;
  const foot: Place = [a[0] + along(deepest) * way[0], a[1] + along(deepest) * way[1]];
  // A hollow is told inside the face, a bulge before it.
  const outward = -facing * wanted;
  const behindX = Math.min(deepest[0], foot[0]);
  const aheadX = Math.max(deepest[0], foot[0]);
  return (
    <>
      <path d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`} {...CHAIN} />
      <path d={`M${foot[0]} ${foot[1]}L${deepest[0]} ${deepest[1]}`} />
      <Strokes at={[foot, deepest]} />
      <Label
        at={outward < 0 ? [behindX - 12, deepest[1] + 6] : [aheadX + 12, deepest[1] + 6]}
        anchor={outward < 0 ? "end" : "start"}
        told={told}
        layout={layout}
      />
    </>
  );
};

/** From where the lip ends back into the mouth: how much of the mouthpiece is in it. */
const along: Kind = ({ layout, places, told }) => {
  const [lip, mark] = places as [Place, Place];
  const { mm } = layout.drawing;
  if (!mm) return null;
  const long = Math.hypot(mark[0] - lip[0], mark[1] - lip[1]) || 1;
  const back = [(lip[0] - mark[0]) / long, (lip[1] - mark[1]) / long] as const;
  const reach = told.value * mm * layout.scale;
  const tip: Place = [lip[0] + reach * back[0], lip[1] + reach * back[1]];
  return (
    <>
      <path
        d={`M${lip[0]} ${lip[1]}L${tip[0]} ${tip[1]}`}
        stroke="var(--brass)"
        strokeDasharray="3 3"
        strokeWidth={3}
      />
      <Strokes at={[lip, tip]} />
      <Label
        at={[tip[0] + 8 * Math.sign(back[0] || 1), tip[1] - 6]}
        anchor={back[0] < 0 ? "end" : "start"}
        told={told}
        layout={layout}
      />
    </>
  );
};

const KINDS: Record<Dimension["kind"], Kind> = {
  across,
  upright,
  rise,
  aside,
  share,
  tilt,
  lean,
  behind,
  along,
};
