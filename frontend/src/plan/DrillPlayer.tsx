/** A drill counted aloud with the browser's own sound: what to do now, and for how long. */
import { useEffect, useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { COUNT_IN, lengthOf, minutesOf, momentAt, type Beat } from "./counting";

const WORDS: Record<Beat["do"], string> = {
  in: "Breathe in",
  out: "Breathe out",
  tone: "Play",
  hold: "Hold the shape",
  rest: "Rest",
};
/** Pitch of a click: higher where something new begins, Hz. */
const CLICK = { first: 1320, other: 880 };
/** How often the clock is looked at, ms. */
const LOOK = 25;

interface Props {
  name: string;
  tempo: number;
  beats: readonly Beat[];
}

export function DrillPlayer({ name, tempo: usual, beats }: Props) {
  const [tempo, setTempo] = useState(usual);
  const [running, setRunning] = useState(false);
  /** Whole counts since the first beat; negative while it is counted in, null at rest. */
  const [counts, setCounts] = useState<number | null>(null);
  const sound = useRef<AudioContext | null>(null);
  const all = lengthOf(beats);
  const moment = counts === null ? null : momentAt(beats, counts);
  const next = moment ? beats[moment.at + 1] : undefined;

  useEffect(() => {
    if (!running) return;
    const period = 60_000 / tempo;
    let heard = counts;
    // Goes on from the count it stands at.
    const began = performance.now() - (counts === null ? 0 : counts + COUNT_IN + 1) * period;
    const timer = window.setInterval(() => {
      const now = Math.floor((performance.now() - began) / period) - COUNT_IN;
      if (now === heard) return;
      heard = now;
      if (now >= all) {
        setRunning(false);
        setCounts(null);
        return;
      }
      setCounts(now);
      click(sound.current, now < 0 || momentAt(beats, now)?.count === 1);
    }, LOOK);
    return () => window.clearInterval(timer);
    // The count it stands at matters only when it starts.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [running, tempo, beats, all]);
  useEffect(() => () => void sound.current?.close(), []);

  function press() {
    sound.current ??= new AudioContext();
    void sound.current.resume();
    setRunning(!running);
  }

  return (
    <div className="drill-player" role="group" aria-label={`${name}, counted`}>
      <p className="now serif" aria-live="off" data-doing={moment?.beat.do ?? "none"}>
        {counts === null ? (
          <span className="faint">{minutesOf(beats, tempo)} minutes</span>
        ) : moment ? (
          <>
            {WORDS[moment.beat.do]} <strong className="figures">{moment.count}</strong>
            <span className="faint fs-5 ms-2">of {moment.beat.counts}</span>
          </>
        ) : (
          <span className="faint">
            Ready <strong className="figures">{-counts}</strong>
          </span>
        )}
      </p>
      <progress max={all} value={Math.max(counts ?? 0, 0)} aria-label="How far" />
      {next && <p className="kicker mb-1">then {WORDS[next.do].toLowerCase()}</p>}
      <div className="d-flex gap-2 align-items-center">
        <Button onClick={press}>
          {running ? "Pause" : counts === null ? "Start counting" : "Go on"}
        </Button>
        {counts !== null && (
          <Button
            variant="outline-secondary"
            onClick={() => {
              setRunning(false);
              setCounts(null);
            }}
          >
            Stop
          </Button>
        )}
        <Form.Label htmlFor={`tempo-${name}`} className="mb-0 ms-2">
          beats per minute
        </Form.Label>
        <Form.Control
          id={`tempo-${name}`}
          type="number"
          size="sm"
          style={{ width: "5rem" }}
          min={30}
          max={160}
          disabled={running}
          value={tempo}
          onChange={(event) =>
            setTempo(Math.min(Math.max(Number(event.target.value), 30), 160))
          }
        />
      </div>
      <p className="kicker mt-2 mb-0">Light-headed? Pause and breathe normally.</p>
    </div>
  );
}

/** One short click; silent where the browser has no sound. */
function click(context: AudioContext | null, first: boolean) {
  if (!context || context.state !== "running") return;
  const [tone, loud] = [context.createOscillator(), context.createGain()];
  const now = context.currentTime;
  tone.frequency.value = first ? CLICK.first : CLICK.other;
  loud.gain.setValueAtTime(first ? 0.25 : 0.12, now);
  loud.gain.exponentialRampToValueAtTime(0.001, now + 0.06);
  tone.connect(loud).connect(context.destination);
  tone.start(now);
  tone.stop(now + 0.07);
}
