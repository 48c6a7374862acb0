/** Putting a frame on the canvas, whole or with all but the mouth veiled. */
import type { BenchPage } from "../api/client";
import type { Point } from "./points";
import type { Rect, View } from "./view";

/** A colour of the palette as a canvas takes it. */
export function color(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`);
}
/** Under the veil a face is this many picture dots wide: nobody can be told from it. */
const VEIL_DOTS = 22;

type Source = ImageBitmap | HTMLVideoElement;

export function paint(
  canvas: HTMLCanvasElement,
  image: Source,
  page: Pick<BenchPage, "width" | "height">,
  view: View,
  box: { width: number; height: number },
  /** The part that stays clear when the rest is veiled, if any does; null veils nothing. */
  veil: { clear: Rect | null } | null,
): void {
  const dense = window.devicePixelRatio || 1;
  const width = Math.round(box.width * dense);
  const height = Math.round(box.height * dense);
  if (canvas.width !== width || canvas.height !== height) {
    canvas.width = width;
    canvas.height = height;
  }
  const context = canvas.getContext("2d");
  if (!context) return;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.fillStyle = color("ground");
  context.fillRect(0, 0, width, height);
  const scale = view.scale * dense;
  context.imageSmoothingQuality = "high";
  context.setTransform(scale, 0, 0, scale, -view.seen.x * scale, -view.seen.y * scale);
  const whole = [-0.5, -0.5, page.width, page.height] as const;
  if (!veil) {
    context.drawImage(image, ...whole);
    return;
  }
  context.drawImage(veiled(image, page), ...whole);
  const { clear } = veil;
  // Where nobody knows the mouth, nothing stays clear.
  if (!clear) return;
  context.save();
  context.beginPath();
  context.ellipse(
    clear.x + clear.width / 2,
    clear.y + clear.height / 2,
    clear.width / 2,
    clear.height / 2,
    0,
    0,
    2 * Math.PI,
  );
  context.clip();
  context.drawImage(image, ...whole);
  context.restore();
}

let small: HTMLCanvasElement | null = null;

/** The picture with so few dots that nothing but light and dark is left. */
function veiled(image: Source, page: Pick<BenchPage, "width" | "height">): HTMLCanvasElement {
  small ??= document.createElement("canvas");
  small.width = VEIL_DOTS;
  small.height = Math.max(Math.round((VEIL_DOTS * page.height) / page.width), 1);
  const context = small.getContext("2d");
  if (context) {
    context.imageSmoothingQuality = "high";
    context.drawImage(image, 0, 0, small.width, small.height);
  }
  return small;
}

/** A mark less sure than this share of what it measures says too little of where the mouth is. */
const UNSURE = 0.25;

/** Mouth and chin on this frame, and a little round them; null when nothing says surely where they
 * are: not marked, covered, or not sure. */
export function mouthPart(points: Point[]): Rect | null {
  const place = (name: string) => points.find((p) => p.landmark === name && !p.hidden);
  const sure = (long: number, ...marks: Point[]) =>
    long > 0 && marks.every((p) => p.sigma < UNSURE * long);
  const [right, left] = [place("ch_r"), place("ch_l")];
  if (right && left) {
    const wide = Math.hypot(left.x - right.x, left.y - right.y);
    if (!sure(wide, left, right)) return null;
    const [x, y] = [(right.x + left.x) / 2, (right.y + left.y) / 2];
    return { x: x - 1.05 * wide, y: y - 0.62 * wide, width: 2.1 * wide, height: 1.55 * wide };
  }
  const [base, chin] = [place("sn"), place("pg")];
  if (!base || !chin) return null;
  const tall = Math.hypot(chin.x - base.x, chin.y - base.y);
  if (!sure(tall, base, chin)) return null;
  const [x, y] = [(base.x + chin.x) / 2, (base.y + chin.y) / 2];
  return { x: x - 1.1 * tall, y: y - 0.72 * tall, width: 2.2 * tall, height: 1.6 * tall };
}
