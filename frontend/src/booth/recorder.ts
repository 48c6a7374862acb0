/** Filming under prompts: what is asked for now, and the clip when it is over. */
import { useEffect, useRef, useState } from "react";
import { click, output, speak } from "../shared/tone";
import type { Source } from "./camera";
import { askedAt, beginOf, lastsOf, type Asked, type Prompt } from "./prompts";
import { t } from "../shared/words";

const KINDS = [
  "video/mp4;codecs=avc1.42E01E,mp4a.40.2",
  "video/webm;codecs=vp8,opus",
  "video/webm",
];
const BITS = 4_000_000;
/** How often what is asked for is looked up, ms. */
const TICK = 50;

/** How the counts before the tone are told, beside the number on the screen. */
export type Counting = "silent" | "clicks" | "aloud";

export interface Recording {
  asked: Asked | null;
  start: (counting: Counting) => void;
  cancel: () => void;
}

export function useRecording(
  source: Source | null,
  prompts: Prompt[],
  done: (clip: Blob) => void,
  failed: (sentence: string) => void,
): Recording {
  const [asked, setAsked] = useState<Asked | null>(null);
  const running = useRef<(() => void) | null>(null);
  useEffect(() => () => running.current?.(), []);

  function start(counting: Counting) {
    if (!source || running.current) return;
    // Sound begins with a touch, as browsers want it.
    output();
    const kind = KINDS.find((one) => MediaRecorder.isTypeSupported(one));
    if (kind === undefined) {
      failed(t("This browser can't film. Use a newer one."));
      return;
    }
    const recorder = new MediaRecorder(source.stream, {
      mimeType: kind,
      videoBitsPerSecond: BITS,
    });
    const pieces: Blob[] = [];
    let timer = 0;
    let kept = true;
    let last = "";
    const toneAt = beginOf(prompts, "play");
    recorder.ondataavailable = ({ data }) => pieces.push(data);
    recorder.onerror = () => failed(t("Filming broke off. Try again."));
    recorder.onstop = () => {
      window.clearInterval(timer);
      running.current = null;
      setAsked(null);
      source.relax();
      if (kept) done(new Blob(pieces, { type: kind.split(";")[0] }));
    };
    recorder.onstart = () => {
      const begun = performance.now();
      let performing = false;
      const tick = () => {
        const seconds = (performance.now() - begun) / 1000;
        const now = askedAt(prompts, seconds);
        if (now === null) {
          recorder.stop();
          return;
        }
        if (!performing && seconds >= toneAt - source.lead) {
          performing = true;
          source.perform();
        }
        const what = `${now.prompt.id} ${now.number}`;
        // Never while a tone sounds: it would be heard on the clip.
        if (now.prompt.id === "breathe" && what !== last) count(counting, now.number);
        if (what !== last) setAsked(now);
        last = what;
      };
      tick();
      timer = window.setInterval(tick, TICK);
    };
    running.current = () => {
      kept = false;
      if (recorder.state !== "inactive") recorder.stop();
    };
    recorder.start();
    // A camera that is taken away ends it as well.
    window.setTimeout(
      () => recorder.state !== "inactive" && recorder.stop(),
      (lastsOf(prompts) + 5) * 1000,
    );
  }
  return { asked, start, cancel: () => running.current?.() };
}

function count(counting: Counting, number: number): void {
  if (counting === "clicks") click(number === 1);
  if (counting === "aloud") speak(String(number));
}
