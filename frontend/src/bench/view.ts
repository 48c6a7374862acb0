/** Which part of the picture is seen, and how large. */
import type { BenchPage } from "../api/client";

export interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Pixel centres are at integers: a picture of W by H spans -0.5 to W - 0.5. */
export function wholePicture(page: Pick<BenchPage, "width" | "height">): Rect {
  return { x: -0.5, y: -0.5, width: page.width, height: page.height };
}

function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? Number.NaN;
}

interface Place {
  x: number;
  y: number;
}

/** From the eyes' lower edge to the chin, about; null when the mouth is not marked. */
export function aroundMouth(page: Pick<BenchPage, "tracks">): Rect | null {
  const place = (landmark: string): Place | null => {
    const track = page.tracks.find((t) => t.landmark === landmark);
    const xs = track?.x.filter((v) => v !== null) ?? [];
    const ys = track?.y.filter((v) => v !== null) ?? [];
    return xs.length ? { x: median(xs), y: median(ys) } : null;
  };
  const right = place("ch_r");
  const left = place("ch_l");
  if (!right || !left) return profile(place("n"), place("pg"));
  const mouth = Math.hypot(left.x - right.x, left.y - right.y);
  const centre = { x: (left.x + right.x) / 2, y: (left.y + right.y) / 2 };
  const height = 2.7 * mouth;
  const width = 3.4 * mouth;
  return { x: centre.x - width / 2, y: centre.y - 0.52 * height, width, height };
}

/** From nose root to under the chin, about, with what is held before the mouth. */
function profile(nose: Place | null, chin: Place | null): Rect | null {
  if (!nose || !chin) return null;
  const face = Math.hypot(chin.x - nose.x, chin.y - nose.y);
  const middle = { x: (nose.x + chin.x) / 2, y: (nose.y + chin.y) / 2 };
  const [width, height] = [2.5 * face, 1.45 * face];
  return { x: middle.x - width / 2, y: middle.y - 0.44 * height, width, height };
}

export interface View {
  /** Screen pixels per picture pixel. */
  scale: number;
  /** What the whole box shows, picture pixels. */
  seen: Rect;
}

/** Fit a part of the picture into a box, as large as it goes, centred. */
export function fit(part: Rect, box: { width: number; height: number }): View {
  const scale = Math.min(box.width / part.width, box.height / part.height) || 1;
  const width = box.width / scale;
  const height = box.height / scale;
  return {
    scale,
    seen: {
      x: part.x + (part.width - width) / 2,
      y: part.y + (part.height - height) / 2,
      width,
      height,
    },
  };
}
