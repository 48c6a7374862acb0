/** Marks that are placed in one stroke: a rim from edge to edge, a thing from end to end. */
import { t } from "../shared/words";

type Place = readonly [number, number];

/** A stroke that is asked for: which marks it gives, and what to draw. */
export interface Stroke {
  marks: string[];
  words: string;
  /** From end to end, round a rim, or freehand along an edge. */
  form: "line" | "round" | "free";
}

const STROKES: Stroke[] = [
  {
    marks: ["rim_1", "rim_2", "rim_3", "rim_4", "rim_5"],
    words: t("or draw a line across the rim, from the upper edge to the lower"),
    form: "round",
  },
  { marks: ["mp_r", "mp_l"], words: t("or draw a line across the mouthpiece"), form: "line" },
  { marks: ["hole_r", "hole_l"], words: t("or draw a line along the hole"), form: "line" },
  {
    marks: ["pl_r", "pl_l"],
    words: t("or draw a line from end to end of the plate"),
    form: "line",
  },
  {
    marks: ["ax_a", "ax_b"],
    words: t("or draw a line along the ligature, from its near edge to its far one"),
    form: "line",
  },
  {
    marks: ["rs_top", "rs_low"],
    words: t("or draw a line along the rim, from top to bottom"),
    form: "line",
  },
  {
    marks: ["ps_in", "ps_out"],
    words: t("or draw a line along the plate, from the chin outward"),
    form: "line",
  },
  { marks: ["kl_a", "kl_b"], words: t("or draw a line along the length"), form: "line" },
];

/** Along the skin from the lower lip to under the chin. */
export const CHIN: Stroke = {
  marks: Array.from({ length: 14 }, (_, n) => `cc_${n + 1}`),
  words: t("draw along the edge of the skin, from the lower lip to under the chin"),
  form: "free",
};

/** The stroke that would place all of the marks asked for next; null when there is none. */
export function strokeFor(asked: readonly { id: string }[]): Stroke | null {
  const ids = asked.map((l) => l.id);
  return (
    STROKES.find(({ marks }) => marks[0] === ids[0] && marks.every((id) => ids.includes(id))) ??
    null
  );
}

/** Where the marks of a stroke lie; `path` is where the pointer went. */
export function placed(
  stroke: Stroke,
  path: readonly Place[],
): { landmark: string; x: number; y: number }[] {
  const [from, to] = [path[0], path[path.length - 1]];
  if (!from || !to) return [];
  if (stroke.form === "free") {
    // From the lip downward, whichever way it was drawn.
    const down = from[1] <= to[1] ? path : [...path].reverse();
    return stroke.marks.map((landmark, n) => {
      const [x, y] = along(down, n / (stroke.marks.length - 1));
      return { landmark, x, y };
    });
  }
  if (stroke.form === "round") {
    const [x, y] = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
    const radius = Math.hypot(to[0] - from[0], to[1] - from[1]) / 2;
    const start = Math.atan2(from[1] - y, from[0] - x);
    return stroke.marks.map((landmark, n) => {
      const angle = start + (2 * Math.PI * n) / stroke.marks.length;
      return { landmark, x: x + radius * Math.cos(angle), y: y + radius * Math.sin(angle) };
    });
  }
  const [first = "", second = ""] = stroke.marks;
  // The student's own right is on the picture's left, whichever way the line was drawn.
  const turned = first.endsWith("_r") && from[0] > to[0];
  const [a, b] = turned ? [to, from] : [from, to];
  return [
    { landmark: first, x: a[0], y: a[1] },
    { landmark: second, x: b[0], y: b[1] },
  ];
}

/** The point at a share of a path's length. */
function along(path: readonly Place[], share: number): Place {
  const lengths = path.map((p, n) => {
    const before = path[n - 1] ?? p;
    return Math.hypot(p[0] - before[0], p[1] - before[1]);
  });
  let left = share * lengths.reduce((sum, l) => sum + l, 0);
  for (let n = 1; n < path.length; n++) {
    const [a, b, long] = [path[n - 1] as Place, path[n] as Place, lengths[n] as number];
    if (left <= long)
      return [
        a[0] + ((b[0] - a[0]) * left) / (long || 1),
        a[1] + ((b[1] - a[1]) * left) / (long || 1),
      ];
    left -= long;
  }
  return path[path.length - 1] as Place;
}
