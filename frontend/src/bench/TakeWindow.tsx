/** The window: one exact frame, its marks, and a loupe at the mark in hand. */
import { useLayoutEffect, useRef, useState, type WheelEvent } from "react";
import type { BenchPage, Landmark } from "../api/client";
import { Loupe } from "./Loupe";
import { MarksLayer, type Marking } from "./MarksLayer";
import { Player } from "./Player";
import { WindowBar } from "./WindowBar";
import { useFrame } from "./frames";
import { mouthPart, paint } from "./paint";
import { frameAt } from "./phases";
import type { Playback } from "./playback";
import type { Point } from "./points";
import { useBox } from "../shared/useBox";
import { useVeil } from "../shared/veil";
import {
  aroundMouth,
  aside,
  fit,
  looking,
  middleOf,
  nearer,
  wholePicture,
  type WindowView,
} from "./view";
import { t } from "../shared/words";

interface Props {
  page: BenchPage;
  frame: number;
  setFrame: (frame: number) => void;
  points: Point[];
  landmarks: Landmark[];
  marking: Marking;
  playback: Playback;
  windowView: WindowView;
  setWindowView: (windowView: WindowView) => void;
}

/** Nearer or farther by one press or turn of the wheel. */
const STEP = 1.35;

export function TakeWindow(props: Props) {
  const { page, frame, setFrame, points, marking, playback, windowView, setWindowView } = props;
  const { playing } = playback;
  const [picture, box] = useBox<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [hover, setHover] = useState<readonly [number, number] | null>(null);
  const { bitmap, trouble } = useFrame(
    page.take.id,
    page.has_frames ? page.times.length : 0,
    frame,
  );
  const mouth = aroundMouth(page);
  const fitted = fit(windowView.close && mouth ? mouth : wholePicture(page), box);
  const view = looking(fitted, windowView.look, box);
  const veiled = useVeil();
  const veil = veiled ? { clear: mouthPart(points) } : null;
  const last = page.times.length - 1;

  useLayoutEffect(() => {
    if (canvas.current && bitmap && !playing)
      paint(canvas.current, bitmap, page, view, box, veil);
  });

  const zoom = (factor: number, at = middleOf(view)) =>
    setWindowView({ ...windowView, look: nearer(fitted, view, factor, at) });
  const wheel = (event: WheelEvent<HTMLDivElement>) => {
    const area = event.currentTarget.getBoundingClientRect();
    zoom(event.deltaY < 0 ? STEP : 1 / STEP, [
      view.seen.x + (event.clientX - area.left) / view.scale,
      view.seen.y + (event.clientY - area.top) / view.scale,
    ]);
  };
  const held = points.find((p) => p.landmark === marking.selected);
  const under = marking.asked && hover ? { x: hover[0], y: hover[1] } : held;

  return (
    <section className="window" aria-label={t("Picture")}>
      <div className="picture" ref={picture} onWheel={wheel}>
        <canvas ref={canvas} aria-hidden data-frame={bitmap && !playing ? frame : undefined} />
        {playing && (
          <Player
            page={page}
            frame={frame}
            playback={playback}
            show={(video, seconds) => {
              if (canvas.current) paint(canvas.current, video, page, view, box, veil);
              setFrame(frameAt(page.times, seconds));
            }}
          />
        )}
        <MarksLayer
          page={page}
          frame={frame}
          points={points}
          landmarks={props.landmarks}
          marking={marking}
          playing={playing}
          view={view}
          hover={setHover}
          pan={(dx, dy) => setWindowView({ ...windowView, look: aside(fitted, view, dx, dy) })}
          pinch={zoom}
        />
        {under && bitmap && !playing && !veiled && (
          <Loupe bitmap={bitmap} page={page} view={view} point={under} />
        )}
        {veil && (
          <span className="veiled">
            {veil.clear ? t("Mouth only") : t("Hidden: the mouth is not marked here")}
          </span>
        )}
        {trouble && !bitmap && (
          <p role="alert" className="position-absolute m-3 p-2 bg-light text-dark">
            {trouble.message}
          </p>
        )}
      </div>
      <WindowBar
        seconds={page.times[frame] ?? 0}
        frame={frame}
        last={last}
        setFrame={setFrame}
        playback={playback}
        windowView={windowView}
        setWindowView={setWindowView}
        zoom={zoom}
        hasMouth={mouth !== null}
      />
    </section>
  );
}
