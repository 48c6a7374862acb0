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

/** Tracks once the take is followed; before that, the marks placed on this frame. */
export function pointsOn(page: BenchPage, frame: number): Point[] {
  if (page.tracks.length === 0) {
    return page.marks
      .filter((m) => m.frame === frame && m.source === "placed")
      .map((m) => ({ ...m, sigma: 1 }));
  }
  return page.tracks.flatMap((track) => {
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
