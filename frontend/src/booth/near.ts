/** How near the mirror shows the mouth: the face at rest fills the picture, and it stays where it
 * is until the head has moved a good way. */
import type { Mirrored } from "../api/booth";

/** The middle of what is shown, shares of the picture's width and height, and how much larger. */
export interface Near {
  x: number;
  y: number;
  times: number;
}

/** The lines of the face at rest fill so much of the width; no more than so many times larger. */
const FILLED = 0.7;
const MOST = 2.8;
/** The picture follows once the face lies so far from its middle, shares of what is shown. */
const FAR = 0.14;

export function nearTo(
  lines: Mirrored["lines"],
  width: number,
  height: number,
  before: Near | null,
): Near | null {
  const numbers = lines
    .filter(({ pen }) => pen === "rest")
    .flatMap(({ path }) => (path.match(/-?\d+(\.\d+)?/g) ?? []).map(Number));
  if (numbers.length < 4) return before;
  const xs = numbers.filter((_, n) => n % 2 === 0);
  const ys = numbers.filter((_, n) => n % 2 === 1);
  const [left, right] = [Math.min(...xs), Math.max(...xs)];
  const [top, low] = [Math.min(...ys), Math.max(...ys)];
  const share = Math.max((right - left) / width, (low - top) / height);
  const now = {
    x: (left + right) / 2 / width,
    y: (top + low) / 2 / height,
    times: Math.min(Math.max(FILLED / share, 1), MOST),
  };
  if (!before) return now;
  const off = Math.hypot(now.x - before.x, now.y - before.y) * before.times;
  const grown = now.times / before.times;
  return off > FAR || grown > 1.25 || grown < 0.8 ? now : before;
}
