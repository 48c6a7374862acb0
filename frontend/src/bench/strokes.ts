/** Marks that are placed in one stroke: a rim from edge to edge, a thing from end to end. */

type Place = readonly [number, number];

/** A stroke that is asked for: which marks it gives, and what to draw. */
export interface Stroke {
  marks: string[];
  words: string;
  round: boolean;
}

const STROKES: Stroke[] = [
  {
    marks: ["rim_1", "rim_2", "rim_3", "rim_4", "rim_5"],
    words: "or draw a line across the rim, from its upper edge to its lower",
    round: true,
  },
  { marks: ["mp_r", "mp_l"], words: "or draw a line across the mouthpiece", round: false },
  { marks: ["hole_r", "hole_l"], words: "or draw a line along the hole", round: false },
  {
    marks: ["pl_r", "pl_l"],
    words: "or draw a line from end to end of the plate",
    round: false,
  },
  {
    marks: ["ax_a", "ax_b"],
    words: "or draw a line along the ligature, from its near edge to its far one",
    round: false,
  },
  {
    marks: ["rs_top", "rs_low"],
    words: "or draw a line along the rim, from top to bottom",
    round: false,
  },
  {
    marks: ["ps_in", "ps_out"],
    words: "or draw a line along the plate, from the chin outward",
    round: false,
  },
  { marks: ["kl_a", "kl_b"], words: "or draw a line along the length", round: false },
];

/** The stroke that would place all of the marks asked for next; null when there is none. */
export function strokeFor(asked: readonly { id: string }[]): Stroke | null {
  const ids = asked.map((l) => l.id);
  return (
    STROKES.find(({ marks }) => marks[0] === ids[0] && marks.every((id) => ids.includes(id))) ??
    null
  );
}

/** Where the marks of a stroke lie. Ends go from the picture's left to its right. */
export function placed(
  stroke: Stroke,
  from: Place,
  to: Place,
): { landmark: string; x: number; y: number }[] {
  if (stroke.round) {
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
