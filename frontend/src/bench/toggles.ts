/** What opens and closes beside the picture, and going nearer without a pointer. */
import type { BenchPage } from "../api/client";
import type { BenchState } from "./useBench";
import { MOST, aroundMouth, wholePicture, type Look } from "./view";

export type Toggle = "letters" | "own" | "observations" | "staves" | "note" | null;

/** Nearer round the mark in hand, else round the middle of what is seen. */
export function nearerBy(
  look: Look | null,
  factor: number,
  bench: Pick<BenchState, "inHand" | "windowView">,
  page: BenchPage,
): Look | null {
  const part = (bench.windowView.close ? aroundMouth(page) : null) ?? wholePicture(page);
  const zoom = Math.min((look?.zoom ?? 1) * factor, MOST);
  if (zoom < 1.02) return null;
  const middle = look ?? { x: part.x + part.width / 2, y: part.y + part.height / 2 };
  const { x, y } = bench.inHand ?? middle;
  return { zoom, x, y };
}
