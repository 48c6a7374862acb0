/** From the sheet to the screen: where a drawing's points lie, and the paths through them. */
import type { Schemas } from "../../api/client";

export type Drawing = Schemas["SmallDrawing"];
export type Dimension = Schemas["Dimension"];
export type Place = readonly [number, number];
export type Shape = { points: Record<string, Place | undefined>; covered: readonly string[] };
/** Centre, half width and half height of the rim. */
export type Ellipse = readonly [number, number, number, number];

/** One mouth to draw: its points, and the rim if one is seen. */
export interface Mouth {
  shape: Shape;
  rim: Ellipse | null;
}

export function shapeOf(raw: Schemas["Shape"]): Shape {
  return {
    points: Object.fromEntries(
      Object.entries(raw.points).map(([name, [x = 0, y = 0]]) => [name, [x, y] as const]),
    ),
    covered: raw.covered,
  };
}

export function ellipseOf(row: readonly number[] | null | undefined): Ellipse | null {
  return row?.length === 4 ? (row as unknown as Ellipse) : null;
}

export function holdOf(drawing: Drawing): Mouth {
  return { shape: shapeOf(drawing.hold), rim: ellipseOf(drawing.rim) };
}

/** Screen pixels round the drawing that dimensions need. */
export interface Room {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** The sheet on a piece of screen. */
export class Layout {
  readonly scale: number;
  private readonly left: number;
  private readonly top: number;
  readonly box: readonly [number, number, number, number];

  constructor(
    readonly drawing: Drawing,
    readonly width: number,
    readonly height: number,
    readonly room: Room,
  ) {
    const [x0 = -1, y0 = -1, x1 = 1, y1 = 1] = drawing.box;
    // Mirrored like the picture where the student looks to the left.
    this.box = drawing.facing < 0 ? [-x1, y0, -x0, y1] : [x0, y0, x1, y1];
    const inner = [width - room.left - room.right, height - room.top - room.bottom] as const;
    this.scale = Math.max(Math.min(inner[0] / (x1 - x0), inner[1] / (y1 - y0)), 1);
    this.left = room.left + (inner[0] - this.scale * (x1 - x0)) / 2 - this.box[0] * this.scale;
    this.top = room.top + (inner[1] - this.scale * (y1 - y0)) / 2 + y1 * this.scale;
  }

  at([x, y]: Place): Place {
    return [this.left + x * this.drawing.facing * this.scale, this.top - y * this.scale];
  }

  /** From the screen to the sheet. */
  back([x, y]: Place): Place {
    return [((x - this.left) / this.scale) * this.drawing.facing, (this.top - y) / this.scale];
  }

  ends(): { left: number; right: number; top: number; bottom: number } {
    const [x0, y0, x1, y1] = this.box;
    return {
      left: this.left + x0 * this.scale,
      right: this.left + x1 * this.scale,
      top: this.top - y1 * this.scale,
      bottom: this.top - y0 * this.scale,
    };
  }
}

/** A point of a mouth by name; `rest:` takes it from the rest face. */
export function pointOf(mouth: Mouth, rest: Shape, name: string): Place | undefined {
  if (name.startsWith("rest:")) return rest.points[name.slice(5)];
  if (name === "hole_near") {
    const hole = holeOf(mouth.shape);
    return hole ? [hole[0], hole[1] + hole[3]] : undefined;
  }
  return mouth.shape.covered.includes(name) ? undefined : mouth.shape.points[name];
}

/** The blow hole: it is as deep on the side of the lip as on the far one. */
export function holeOf({ points, covered }: Shape): Ellipse | null {
  const [right, left, far] = [points.hole_r, points.hole_l, points.hole_far];
  if (!right || !left || !far || covered.includes("hole_far")) return null;
  const centre = [(right[0] + left[0]) / 2, (right[1] + left[1]) / 2] as const;
  return [
    centre[0],
    centre[1],
    Math.hypot(left[0] - right[0], left[1] - right[1]) / 2,
    Math.abs(centre[1] - far[1]),
  ];
}

/** The middle of the lips, from which a corner's lift is seen: at rest where one is covered. */
export function middleOf(mouth: Mouth, rest: Shape): Place | null {
  const one = (name: string) => pointOf(mouth, rest, name);
  const [up, low] =
    one("ls") && one("li") ? [one("ls"), one("li")] : [rest.points.ls, rest.points.li];
  return up && low ? [(up[0] + low[0]) / 2, (up[1] + low[1]) / 2] : null;
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

export function straight(points: readonly Place[]): string {
  return `M${points.map(pair).join("L")}`;
}

function pair(p: Place): string {
  return `${p[0].toFixed(1)} ${p[1].toFixed(1)}`;
}

/** Half the length of a short arc, units of the sheet. */
const ARC = 0.22;

/** A short arc through one point, open toward the mouth. */
function arc(at: Place, form: "under" | "beside", layout: Layout): string {
  const reach = ARC * layout.scale;
  const bend = reach * 0.28;
  const [x, y] = at;
  const inward = x < layout.at([0, 0])[0] ? 1 : -1;
  return form === "under"
    ? smooth([
        [x - reach, y - bend],
        [x, y],
        [x + reach, y - bend],
      ])
    : smooth([
        [x + inward * bend, y - reach],
        [x, y],
        [x + inward * bend * 0.6, y + reach],
      ]);
}

/** The paths of a mouth's lines, by the part they belong to. */
export function paths(
  layout: Layout,
  mouth: Mouth,
  rest: Shape,
): { part: "lips" | "skin" | "thing"; d: string }[] {
  return layout.drawing.lines.flatMap((line) => {
    const needed = line.points.map((name) => pointOf(mouth, rest, name));
    if (needed.some((p) => p === undefined)) return [];
    const names = between(line.points, line.optional);
    const points = names
      .map((name) => pointOf(mouth, rest, name))
      .filter((p) => p !== undefined)
      .map((p) => layout.at(p));
    const first = points[0];
    if (!first) return [];
    if (line.form === "under" || line.form === "beside")
      return [{ part: line.part, d: arc(first, line.form, layout) }];
    return [{ part: line.part, d: line.form === "smooth" ? smooth(points) : straight(points) }];
  });
}

/** Optional points lie between the ends, one on each side of the middle one. */
function between(points: readonly string[], optional: readonly string[]): readonly string[] {
  const [a, b, c] = points;
  const [first, second] = optional;
  return a && b && c && first && second ? [a, first, b, second, c] : points;
}
