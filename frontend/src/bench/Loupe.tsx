/** A loupe at the mark in hand, in the corner away from it. */
import { useLayoutEffect, useRef } from "react";
import type { BenchPage } from "../api/client";
import { color } from "./paint";
import { middleOf, type View } from "./view";

const SIZE = 176;
const ZOOM = 5;

interface Props {
  bitmap: ImageBitmap;
  page: BenchPage;
  view: View;
  point: { x: number; y: number };
}

export function Loupe({ bitmap, page, view, point }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context) return;
    const zoom = view.scale * ZOOM;
    const middle = SIZE / 2;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.fillStyle = color("ground");
    context.fillRect(0, 0, SIZE, SIZE);
    context.setTransform(zoom, 0, 0, zoom, middle - point.x * zoom, middle - point.y * zoom);
    context.drawImage(bitmap, -0.5, -0.5, page.width, page.height);
    context.setTransform(1, 0, 0, 1, middle, middle);
    context.strokeStyle = color("in-hand");
    context.beginPath();
    for (const [x, y] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const) {
      context.moveTo(x * 6, y * 6);
      context.lineTo(x * 30, y * 30);
    }
    context.stroke();
  });
  const side = point.x < middleOf(view)[0] ? { right: 12 } : { left: 12 };
  return (
    <canvas
      ref={canvas}
      className="loupe"
      width={SIZE}
      height={SIZE}
      style={{ ...side, top: 12 }}
      aria-hidden
    />
  );
}
