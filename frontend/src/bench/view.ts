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

/** Nearer than the fitted part: how many times, and the picture's point in the middle. */
export interface Look {
  zoom: number;
  x: number;
  y: number;
}

/** Nearer than so many times the fitted view it never goes. */
export const MOST = 14;

interface Box {
  width: number;
  height: number;
}

/** What is seen when the teacher has gone nearer or aside; without a look, the fitted part. */
export function looking(fitted: View, look: Look | null, box: Box): View {
  if (!look) return fitted;
  const scale = fitted.scale * look.zoom;
  const [width, height] = [box.width / scale, box.height / scale];
  return { scale, seen: { x: look.x - width / 2, y: look.y - height / 2, width, height } };
}

/** Nearer by a factor while the point `at` of the picture stays where it is on screen. */
export function nearer(
  fitted: View,
  view: View,
  factor: number,
  at: readonly [number, number],
): Look | null {
  const zoom = Math.min((view.scale / fitted.scale) * factor, MOST);
  if (zoom < 1.02) return null;
  const shrink = view.scale / (fitted.scale * zoom);
  const middle = middleOf(view);
  return {
    zoom,
    x: at[0] - (at[0] - middle[0]) * shrink,
    y: at[1] - (at[1] - middle[1]) * shrink,
  };
}

/** Moved aside by so many pixels of the screen. */
export function aside(fitted: View, view: View, dx: number, dy: number): Look {
  const [x, y] = middleOf(view);
  return { zoom: view.scale / fitted.scale, x: x - dx / view.scale, y: y - dy / view.scale };
}

export function middleOf({ seen }: View): readonly [number, number] {
  return [seen.x + seen.width / 2, seen.y + seen.height / 2];
}

/** What the window shows of the picture. */
export interface WindowView {
  /** Fitted to the mouth, else to the whole picture. */
  close: boolean;
  look: Look | null;
}
