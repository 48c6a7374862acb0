/** From the sheet to the screen: the places of a drawing's strokes and the paths through them.
 *
 * What is drawn, and where, was decided by the server; see `core/drawing`. Paper does the same in
 * `figure.py`; one fixture is drawn by both and compared. */
import type { Schemas } from "../../api/client";

export type Drawing = Schemas["Drawing"];
export type Dimension = Schemas["Dimension"];
export type Stroke = Schemas["Stroke"];
export type Pen = Stroke["pen"];
export type Place = readonly [number, number];
type At = Schemas["At"];

/** One mouth to draw: its anchors, and the landmarks among them that can't be seen. */
export interface Mouth {
  points: Record<string, Place | undefined>;
  covered: readonly string[];
}
export type Anchors = Record<string, Place | undefined>;

export function mouthOf(shape: Schemas["Shape"]): Mouth {
  return { points: placesOf(shape.points), covered: shape.covered };
}

export function placesOf(rows: Record<string, number[]>): Record<string, Place | undefined> {
  return Object.fromEntries(
    Object.entries(rows).map(([name, [x = 0, y = 0]]) => [name, [x, y] as const]),
  );
}

export function holdOf(drawing: Drawing): Mouth {
  return mouthOf(drawing.hold);
}

/** All anchors of one mouth on a drawing: what is covered is not among them. */
export function anchorsOf(drawing: Drawing, mouth: Mouth): Anchors {
  const [left = 0, low = 0, right = 0, high = 0] = drawing.box;
  const anchors: Anchors = {
    "box:left": [left, low],
    "box:low": [left, low],
    "box:right": [right, high],
    "box:high": [right, high],
  };
  for (const [name, place] of Object.entries(placesOf(drawing.rest.points)))
    anchors[`rest:${name}`] = place;
  for (const [name, place] of Object.entries(mouth.points))
    if (!mouth.covered.includes(name)) anchors[name] = place;
  return anchors;
}

/** A place of the sheet; null while one of its anchors is missing. */
export function placeOf(at: At, anchors: Anchors): Place | null {
  const [x, y] = [at.x ? anchors[at.x] : ORIGIN, at.y ? anchors[at.y] : ORIGIN];
  return x && y ? [x[0] + at.dx, y[1] + at.dy] : null;
}

const ORIGIN: Place = [0, 0];

/** The places of a stroke; null while one is missing that it can't do without. */
export function resolved(stroke: Stroke, anchors: Anchors): Place[] | null {
  const places: Place[] = [];
  for (const at of stroke.places) {
    const place = placeOf(at, anchors);
    if (place) places.push(place);
    else if (!at.optional) return null;
  }
  return places.length > 0 ? places : null;
}

/** Whether all lines of a dimension are known and lie on the sheet, room beside it included. */
export function fits(dimension: Dimension, anchors: Anchors, { box, room }: Drawing): boolean {
  const low = (box[0] ?? 0) - (room[0] ?? 0);
  const high = (box[2] ?? 0) + (room[2] ?? 0);
  return dimension.strokes.every((stroke) =>
    resolved(stroke, anchors)?.every(([x]) => low <= x && x <= high),
  );
}

/** Margins round a drawing, screen pixels. */
export interface Margin {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

export const NO_MARGIN: Margin = { left: 0, right: 0, top: 0, bottom: 0 };
/** How far dimension lines stand out of a drawing: left, low, right, high, units. */
export type Room = readonly number[];
export const NO_ROOM: Room = [0, 0, 0, 0];

/** The sheet on a piece of screen. */
export class Layout {
  readonly scale: number;
  private readonly left: number;
  private readonly top: number;

  constructor(
    readonly drawing: Drawing,
    readonly width: number,
    readonly height: number,
    margin: Margin = NO_MARGIN,
    room: Room = NO_ROOM,
  ) {
    const [x0 = -1, y0 = -1, x1 = 1, y1 = 1] = drawing.box;
    const [left = 0, low = 0, right = 0, high = 0] = room;
    const box = [x0 - left, y0 - low, x1 + right, y1 + high] as const;
    // Mirrored like the picture where the student looks to the left.
    const from = drawing.facing < 0 ? -box[2] : box[0];
    const [wide, tall] = [box[2] - box[0], box[3] - box[1]];
    const inner = [
      width - margin.left - margin.right,
      height - margin.top - margin.bottom,
    ] as const;
    this.scale = Math.max(Math.min(inner[0] / wide, inner[1] / tall), 1);
    this.left = margin.left + (inner[0] - this.scale * wide) / 2 - from * this.scale;
    this.top = margin.top + (inner[1] - this.scale * tall) / 2 + box[3] * this.scale;
  }

  at([x, y]: Place): Place {
    return [this.left + x * this.drawing.facing * this.scale, this.top - y * this.scale];
  }

  /** From the screen to the sheet. */
  back([x, y]: Place): Place {
    return [((x - this.left) / this.scale) * this.drawing.facing, (this.top - y) / this.scale];
  }
}

/** A stroke through places of the screen, as an SVG path. */
export function pathOf(stroke: Stroke, places: readonly Place[]): string {
  const end = stroke.closed ? "Z" : "";
  if (stroke.form === "ellipse") return ellipse(places);
  return (stroke.form === "smooth" ? smooth(places) : straight(places)) + end;
}

/** A smooth line through points (Catmull-Rom as Bézier pieces). */
export function smooth(points: readonly Place[]): string {
  const get = (n: number) => points[Math.min(Math.max(n, 0), points.length - 1)] as Place;
  let path = `M${pair(get(0))}`;
  for (let n = 0; n < points.length - 1; n++) {
    const [a, b, c, d] = [get(n - 1), get(n), get(n + 1), get(n + 2)];
    const first: Place = [b[0] + (c[0] - a[0]) / 6, b[1] + (c[1] - a[1]) / 6];
    const second: Place = [c[0] - (d[0] - b[0]) / 6, c[1] - (d[1] - b[1]) / 6];
    path += `C${pair(first)} ${pair(second)} ${pair(c)}`;
  }
  return path;
}

function straight(points: readonly Place[]): string {
  return `M${points.map(pair).join("L")}`;
}

/** From its centre and an end of each half axis. */
function ellipse([centre = ORIGIN, side = ORIGIN, top = ORIGIN]: readonly Place[]): string {
  const away = (p: Place) => Math.hypot(p[0] - centre[0], p[1] - centre[1]);
  const [rx, ry] = [away(side), away(top)];
  const [x, y] = centre;
  const arc = (to: number) => `A${rx.toFixed(1)} ${ry.toFixed(1)} 0 0 1 ${pair([to, y])}`;
  return `M${pair([x - rx, y])}${arc(x + rx)}${arc(x - rx)}Z`;
}

function pair(p: Place): string {
  return `${p[0].toFixed(1)} ${p[1].toFixed(1)}`;
}
