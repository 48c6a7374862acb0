/** A drill counted aloud with the browser's own sound: what to do now, and for how long. */
import { inside } from "../shared/format";
import { useEffect, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { canSpeak, click, output, speak } from "../shared/tone";
import { COUNT_IN, lengthOf, minutesOf, momentAt, type Beat } from "./counting";
import { t } from "../shared/words";

const WORDS: Record<Beat["do"], string> = {
  in: t("Breathe in"),
  out: t("Breathe out"),
  tone: t("Play"),
  hum: t("Hum"),
  listen: t("Listen"),
  hold: t("Hold the shape"),
  rest: t("Rest"),
};
/** How often the clock is looked at, ms. */
const LOOK = 25;

interface Props {
  name: string;
  tempo: number;
  beats: readonly Beat[];
  /** Called when the last count is over. */
  done?: () => void;
}

export function DrillPlayer({ name, tempo: usual, beats, done }: Props) {
  const [tempo, setTempo] = useState(usual);
  const [running, setRunning] = useState(false);
  /** Whole counts since the first beat; negative while it is counted in, null at rest. */
  const [counts, setCounts] = useState<number | null>(null);
  const [aloud, setAloud] = useState(false);
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
        done?.();
        return;
      }
      setCounts(now);
      const count = now < 0 ? now + COUNT_IN + 1 : (momentAt(beats, now)?.count ?? 1);
      if (aloud) speak(String(count));
      else click(now < 0 || count === 1);
    }, LOOK);
    return () => window.clearInterval(timer);
    // The count it stands at matters only when it starts.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [running, tempo, beats, all, aloud]);

  function press() {
    output();
    setRunning(!running);
  }

  return (
    <div className="drill-player" role="group" aria-label={t("{{name}}, counted", { name })}>
      <p className="now serif" aria-live="off" data-doing={moment?.beat.do ?? "none"}>
        {counts === null ? (
          <span className="faint">
            {t("{{minutes}} minutes", { minutes: minutesOf(beats, tempo) })}
          </span>
        ) : moment ? (
          <>
            {WORDS[moment.beat.do]} <strong className="figures">{moment.count}</strong>
            <span className="faint fs-5 ms-2">
              {t("of {{counts}}", { counts: moment.beat.counts })}
            </span>
          </>
        ) : (
          <span className="faint">
            {counts === -1 ? t("Breathe in") : t("Ready")}{" "}
            <strong className="figures">{-counts}</strong>
          </span>
        )}
      </p>
      <progress max={all} value={Math.max(counts ?? 0, 0)} aria-label={t("How far")} />
      {next && (
        <p className="kicker mb-1">{t("then {{do}}", { do: inside(WORDS[next.do]) })}</p>
      )}
      <div className="d-flex gap-2 align-items-center">
        <Button onClick={press}>
          {running ? t("Pause") : counts === null ? t("Start counting") : t("Go on")}
        </Button>
        {counts !== null && (
          <Button
            variant="outline-secondary"
            onClick={() => {
              setRunning(false);
              setCounts(null);
            }}
          >
            {t("Stop")}
          </Button>
        )}
        <Form.Label htmlFor={`tempo-${name}`} className="mb-0 ms-2">
          {t("beats per minute")}
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
      {canSpeak() && (
        <Form.Check
          className="mt-2"
          id={`aloud-${name}`}
          label={t("Count aloud")}
          checked={aloud}
          onChange={(event) => setAloud(event.target.checked)}
        />
      )}
      <p className="kicker mt-2 mb-0">{t("Light-headed? Pause and breathe normally.")}</p>
    </div>
  );
}
