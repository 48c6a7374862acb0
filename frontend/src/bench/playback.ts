/** Playing: at which speed, and whether it is heard. */
import { useState } from "react";
import { t } from "../shared/words";

export const SPEEDS = [1, 0.5, 0.25] as const;

export interface Playback {
  playing: boolean;
  setPlaying: (playing: boolean) => void;
  speed: number;
  /** The next slower speed, and after the slowest the full one. */
  slower: () => void;
  heard: boolean;
  setHeard: (heard: boolean) => void;
}

export function usePlayback(): Playback {
  const [playing, setPlaying] = useState(false);
  const [step, setStep] = useState(0);
  const [heard, setHeard] = useState(true);
  return {
    playing,
    setPlaying,
    speed: SPEEDS[step] ?? 1,
    slower: () => setStep((step + 1) % SPEEDS.length),
    heard,
    setHeard,
  };
}

export function speedWord(speed: number): string {
  return speed === 1 ? t("full speed") : speed === 0.5 ? t("half speed") : t("quarter speed");
}
