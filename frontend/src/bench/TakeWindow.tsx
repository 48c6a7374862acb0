/** The window: one exact frame, its marks, and a loupe at the mark in hand. */
import { useEffect, useLayoutEffect, useRef, type PointerEvent } from "react";
import type { BenchPage, Landmark } from "../api/client";
import { useFrame } from "./frames";
import { frameAt } from "./phases";
import { contourOn, type Point } from "./points";
import { useBox } from "./useBox";
import { aroundMouth, fit, wholePicture, type View } from "./view";

const LOUPE = 176;
const LOUPE_ZOOM = 5;

interface Props {
  page: BenchPage;
  frame: number;
  setFrame: (frame: number) => void;
  points: Point[];
  landmarks: Landmark[];
  selected: string | null;
  select: (landmark: string | null) => void;
  /** While a mark is dragged or nudged, before it is sent. */
  moveMark: (landmark: string, x: number, y: number) => void;
  /** The mark stays here. */
  dropMark: (landmark: string, x: number, y: number) => void;
  /** A click on the bare picture, if it means anything now. */
  onPicture: ((x: number, y: number) => void) | null;
  playing: boolean;
  setPlaying: (playing: boolean) => void;
  close: boolean;
  setClose: (close: boolean) => void;
}

export function TakeWindow(props: Props) {
  const { page, frame, setFrame, points, selected, playing, setPlaying } = props;
  const [picture, box] = useBox<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { bitmap, trouble } = useFrame(
    page.take.id,
    page.has_frames ? page.times.length : 0,
    frame,
  );
  const mouth = aroundMouth(page);
  const view = fit(props.close && mouth ? mouth : wholePicture(page), box);
  const last = page.times.length - 1;

  useLayoutEffect(() => {
    if (canvas.current && bitmap && !playing) paint(canvas.current, bitmap, page, view, box);
  });

  return (
    <section className="window" aria-label="Picture">
      <div className="picture" ref={picture}>
        <canvas ref={canvas} aria-hidden data-frame={bitmap && !playing ? frame : undefined} />
        {playing && (
          <Player
            page={page}
            frame={frame}
            show={(video, seconds) => {
              if (canvas.current) paint(canvas.current, video, page, view, box);
              setFrame(frameAt(page.times, seconds));
            }}
            ended={() => setPlaying(false)}
          />
        )}
        <Marks {...props} view={view} />
        {selected && bitmap && !playing && (
          <Loupe
            bitmap={bitmap}
            page={page}
            view={view}
            point={points.find((p) => p.landmark === selected)}
          />
        )}
        {trouble && !bitmap && (
          <p role="alert" className="position-absolute m-3 p-2 bg-light text-dark">
            {trouble.message}
          </p>
        )}
      </div>
      <div className="bar figures">
        <button type="button" onClick={() => setFrame(frame - 1)} aria-label="−1 frame">
          −1
        </button>
        <button
          type="button"
          onClick={() => setPlaying(!playing)}
          style={{ minWidth: "4.2rem" }}
        >
          {playing ? "Stop" : "Play"}
        </button>
        <button type="button" onClick={() => setFrame(frame + 1)} aria-label="+1 frame">
          +1
        </button>
        <span>
          {(page.times[frame] ?? 0).toFixed(2)} s, frame {frame} of {Math.max(last, 0)}
        </span>
        <span className="flex-fill" />
        <Legend />
        {mouth && (
          <button type="button" onClick={() => props.setClose(!props.close)}>
            {props.close ? "Whole picture" : "Mouth alone"}
          </button>
        )}
      </div>
    </section>
  );
}

function paint(
  canvas: HTMLCanvasElement,
  image: ImageBitmap | HTMLVideoElement,
  page: BenchPage,
  view: View,
  box: { width: number; height: number },
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
  context.fillStyle = "#14110c";
  context.fillRect(0, 0, width, height);
  const scale = view.scale * dense;
  context.imageSmoothingQuality = "high";
  context.setTransform(scale, 0, 0, scale, -view.seen.x * scale, -view.seen.y * scale);
  context.drawImage(image, -0.5, -0.5, page.width, page.height);
}

/** Plays the review copy; the canvas shows what it presents, frame by frame. */
function Player({
  page,
  frame,
  show,
  ended,
}: {
  page: BenchPage;
  frame: number;
  show: (video: HTMLVideoElement, seconds: number) => void;
  ended: () => void;
}) {
  const video = useRef<HTMLVideoElement>(null);
  const latest = useRef(show);
  const from = useRef(page.times[frame] ?? 0);
  const stop = useRef(ended);
  useEffect(() => {
    latest.current = show;
    stop.current = ended;
  });
  useEffect(() => {
    const element = video.current;
    if (!element) return;
    let handle = 0;
    const present = (_: number, facts: VideoFrameCallbackMetadata) => {
      latest.current(element, facts.mediaTime);
      handle = element.requestVideoFrameCallback(present);
    };
    element.currentTime = from.current + 0.001;
    handle = element.requestVideoFrameCallback(present);
    element.play().catch(() => stop.current());
    return () => element.cancelVideoFrameCallback(handle);
  }, []);
  return (
    <video
      ref={video}
      src={`/private/takes/${page.take.id}/clip.mp4`}
      style={{ visibility: "hidden" }}
      onEnded={ended}
      playsInline
    />
  );
}

function Marks({
  page,
  frame,
  points,
  landmarks,
  selected,
  select,
  moveMark,
  dropMark,
  onPicture,
  playing,
  view,
}: Props & { view: View }) {
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<{
    landmark: string;
    dx: number;
    dy: number;
    at: [number, number];
  } | null>(null);
  const words = new Map(landmarks.map((l) => [l.id, l.words]));
  const { seen, scale } = view;

  function where(event: PointerEvent): [number, number] {
    const area = (svg.current as SVGSVGElement).getBoundingClientRect();
    return [
      seen.x + (event.clientX - area.left) / scale,
      seen.y + (event.clientY - area.top) / scale,
    ];
  }

  function grab(event: PointerEvent, point: Point) {
    if (event.button !== 0 || playing) return;
    event.stopPropagation();
    const [x, y] = where(event);
    drag.current = {
      landmark: point.landmark,
      dx: point.x - x,
      dy: point.y - y,
      at: [point.x, point.y],
    };
    svg.current?.setPointerCapture(event.pointerId);
    select(point.landmark);
  }

  return (
    <svg
      ref={svg}
      viewBox={`${seen.x} ${seen.y} ${seen.width || 1} ${seen.height || 1}`}
      role="group"
      aria-label="Marks"
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        const [x, y] = where(event);
        if (onPicture) onPicture(x, y);
        else select(null);
      }}
      onPointerMove={(event) => {
        const held = drag.current;
        if (!held) return;
        const [x, y] = where(event);
        held.at = [x + held.dx, y + held.dy];
        moveMark(held.landmark, ...held.at);
      }}
      onLostPointerCapture={() => {
        const held = drag.current;
        drag.current = null;
        if (held) dropMark(held.landmark, ...held.at);
      }}
    >
      <polyline
        points={contourOn(page, frame)}
        fill="none"
        stroke="#fff"
        strokeWidth={2.5}
        vectorEffect="non-scaling-stroke"
        paintOrder="stroke"
        pointerEvents="none"
        data-contour
      />
      {points.map((point) => (
        <g
          key={point.landmark}
          className="point"
          // While a point is asked for, marks that nobody placed let the click through.
          pointerEvents={onPicture && point.source !== "placed" ? "none" : undefined}
          transform={`translate(${point.x} ${point.y}) scale(${1 / scale})`}
          role="button"
          tabIndex={0}
          aria-pressed={selected === point.landmark}
          aria-label={`${words.get(point.landmark) ?? point.landmark}, ${point.hidden ? "covered" : point.source}`}
          data-landmark={point.landmark}
          data-x={point.x.toFixed(2)}
          data-y={point.y.toFixed(2)}
          onPointerDown={(event) => grab(event, point)}
          onFocus={() => select(point.landmark)}
        >
          <title>{words.get(point.landmark)}</title>
          <circle r={14} fill="transparent" className="halo" />
          <circle
            r={Math.max(2 * point.sigma * scale, 3)}
            fill="none"
            stroke="#fff"
            strokeOpacity={0.35}
          />
          <MarkShape
            source={point.hidden ? "hidden" : point.source}
            held={selected === point.landmark}
          />
          {selected === point.landmark && (
            <text
              // Outward, so that it does not lie over the mouth.
              x={point.x < seen.x + seen.width / 2 ? -14 : 14}
              textAnchor={point.x < seen.x + seen.width / 2 ? "end" : "start"}
              y={-12}
              fill="#fff"
              stroke="#14110c"
              strokeWidth={4}
              paintOrder="stroke"
              fontSize={17}
              fontWeight={600}
              pointerEvents="none"
            >
              {words.get(point.landmark)}
            </text>
          )}
        </g>
      ))}
    </svg>
  );
}

/** A mark's source by shape: found a ring, followed a dot, placed a lozenge, covered a dashed ring. */
function MarkShape({ source, held }: { source: string; held: boolean }) {
  const line = { stroke: held ? "#ffd98a" : "#fff7e6", strokeWidth: held ? 2.6 : 1.8 };
  const under = { stroke: "#14110c", strokeWidth: line.strokeWidth + 2.4, strokeOpacity: 0.75 };
  if (source === "placed")
    return (
      <>
        <path d="M0-7 7 0 0 7-7 0z" fill="none" {...under} />
        <path d="M0-7 7 0 0 7-7 0z" fill="none" {...line} />
      </>
    );
  if (source === "followed")
    return (
      <>
        <circle r={4.6} fill="#14110c" fillOpacity={0.75} />
        <circle r={3.2} fill={line.stroke} />
      </>
    );
  const dash = source === "hidden" ? "3 3" : undefined;
  return (
    <>
      {source !== "hidden" && <circle r={5.5} fill="none" {...under} />}
      <circle r={5.5} fill="none" strokeDasharray={dash} {...line} />
    </>
  );
}

function Legend() {
  return (
    <span className="d-none d-xl-flex gap-2 align-items-center" style={{ fontSize: "0.82rem" }}>
      {["found", "followed", "placed", "covered"].map((name) => (
        <span key={name} className="d-inline-flex align-items-center gap-1">
          <svg width="16" height="16" viewBox="-9 -9 18 18" aria-hidden>
            <MarkShape source={name === "covered" ? "hidden" : name} held={false} />
          </svg>
          {name}
        </span>
      ))}
    </span>
  );
}

function Loupe({
  bitmap,
  page,
  view,
  point,
}: {
  bitmap: ImageBitmap;
  page: BenchPage;
  view: View;
  point: Point | undefined;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context || !point) return;
    const zoom = view.scale * LOUPE_ZOOM;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.fillStyle = "#14110c";
    context.fillRect(0, 0, LOUPE, LOUPE);
    context.setTransform(
      zoom,
      0,
      0,
      zoom,
      LOUPE / 2 - point.x * zoom,
      LOUPE / 2 - point.y * zoom,
    );
    context.drawImage(bitmap, -0.5, -0.5, page.width, page.height);
    context.setTransform(1, 0, 0, 1, LOUPE / 2, LOUPE / 2);
    context.strokeStyle = "#ffd98a";
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
  if (!point) return null;
  // In the corner away from the mark.
  const leftHalf = point.x < view.seen.x + view.seen.width / 2;
  const side = leftHalf ? { right: 12 } : { left: 12 };
  return (
    <canvas
      ref={canvas}
      className="loupe"
      width={LOUPE}
      height={LOUPE}
      style={{ ...side, top: 12 }}
      aria-hidden
    />
  );
}
