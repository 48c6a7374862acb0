/** Where the marks are on one frame. */
import type { BenchPage } from "../api/client";

export interface Point {
  landmark: string;
  x: number;
  y: number;
  sigma: number;
  source: "found" | "followed" | "placed" | "none";
  hidden: boolean;
}

/** Places along the edge of the skin, drawn as one line. */
const CONTOUR = "cc_";

/** Found for the scale or the head's turn alone: no marks to look at. */
const UNSEEN = /^(iris_|cc_)/;

/** The edge of the chin on one frame of a side view, as SVG points; empty where it is not seen. */
export function contourOn(page: BenchPage, frame: number): string {
  return page.tracks
    .filter((track) => track.landmark.startsWith(CONTOUR) && !track.hidden[frame])
    .flatMap((track) => {
      const [x, y] = [track.x[frame], track.y[frame]];
      return x == null || y == null ? [] : [`${x},${y}`];
    })
    .join(" ");
}

/** Tracks once the take is followed; before that, the marks placed on this frame. */
export function pointsOn(page: BenchPage, frame: number): Point[] {
  if (page.tracks.length === 0) {
    return page.marks
      .filter((m) => m.frame === frame && m.source === "placed")
      .map((m) => ({ ...m, sigma: 1 }));
  }
  return page.tracks.flatMap((track) => {
    if (UNSEEN.test(track.landmark)) return [];
    const x = track.x[frame];
    const y = track.y[frame];
    if (x == null || y == null) return [];
    return [
      {
        landmark: track.landmark,
        x,
        y,
        sigma: track.sigma[frame] ?? 0,
        source: track.source[frame] ?? "none",
        hidden: track.hidden[frame] ?? false,
      },
    ];
  });
}
