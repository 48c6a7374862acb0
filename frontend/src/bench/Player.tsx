/** Plays the review copy; the canvas shows what it presents, frame by frame. */
import { useEffect, useRef } from "react";
import type { BenchPage } from "../api/client";
import type { Playback } from "./playback";

interface Props {
  page: BenchPage;
  frame: number;
  playback: Playback;
  show: (video: HTMLVideoElement, seconds: number) => void;
}

export function Player({ page, frame, playback, show }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const latest = useRef(show);
  const from = useRef(page.times[frame] ?? 0);
  const stop = useRef(() => playback.setPlaying(false));
  useEffect(() => {
    latest.current = show;
    stop.current = () => playback.setPlaying(false);
  });
  useEffect(() => {
    if (video.current) video.current.playbackRate = playback.speed;
  }, [playback.speed]);
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
      muted={!playback.heard}
      onEnded={() => playback.setPlaying(false)}
      playsInline
    />
  );
}
