/** One student before the camera: led through the prompts, then told whether it can be read. */
import { useEffect, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useFilm, type Booth, type BoothStudent, type View } from "../api/booth";
import { isLost } from "../api/links";
import { NoteButton } from "../shared/NoteButton";
import { Refused } from "../shared/states";
import { useCamera, useLevel, type Source } from "./camera";
import { Mirror } from "./Mirror";
import { canSpeak } from "../shared/tone";
import { Picture } from "./Picture";
import { useRecording, type Counting } from "./recorder";
import { t } from "../shared/words";

interface Props {
  booth: Booth;
  student: BoothStudent;
  leave: () => void;
}

export function Filming({ booth, student, leave }: Props) {
  const [view, setView] = useState<View>(student.front && !student.side ? "side" : "front");
  const [madeUp, setMadeUp] = useState(false);
  const [mirror, setMirror] = useState(false);
  useAbsence(leave);
  const camera = useCamera(madeUp ? `/private/stand-in/${student.id}-${view}.mp4` : null);
  return (
    <>
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-2">
        <h1 className="mb-0">{student.name}</h1>
        <span className="fs-5 faint">
          {student.instrument}, {view === "front" ? t("from the front") : t("from the side")}
        </span>
        <span className="flex-fill" />
        <Button variant="outline-secondary" onClick={leave}>
          {t("Not me")}
        </Button>
      </div>
      {camera.trouble && (
        <div role="alert" className="mb-3">
          <p className="fs-5 mb-2">{camera.trouble}</p>
          <Button className="me-2" onClick={camera.again}>
            {t("Try again")}
          </Button>
          {booth.stand_in && !madeUp && (
            <Button variant="outline-primary" onClick={() => setMadeUp(true)}>
              {t("Let a made-up student play")}
            </Button>
          )}
        </div>
      )}
      {mirror ? (
        <Mirror
          student={student}
          view={view}
          source={camera.source}
          leave={() => setMirror(false)}
        />
      ) : (
        <Take
          // Another view is filmed anew.
          key={view}
          booth={booth}
          student={student}
          view={view}
          source={camera.source}
          other={() => setView(view === "front" ? "side" : "front")}
          leave={leave}
          look={() => setMirror(true)}
        />
      )}
      {booth.stand_in && !madeUp && !camera.trouble && (
        <Button variant="link" className="p-0" onClick={() => setMadeUp(true)}>
          {t("Let a made-up student play instead")}
        </Button>
      )}
    </>
  );
}

/** So long after the last touch a child has gone, ms: the camera goes off, and the names are back. */
const ABSENT = 180_000;

function useAbsence(leave: () => void): void {
  useEffect(() => {
    let timer = window.setTimeout(leave, ABSENT);
    const touched = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(leave, ABSENT);
    };
    const signs = ["pointerdown", "keydown"] as const;
    signs.forEach((sign) => window.addEventListener(sign, touched));
    return () => {
      window.clearTimeout(timer);
      signs.forEach((sign) => window.removeEventListener(sign, touched));
    };
  }, [leave]);
}

interface TakeProps extends Props {
  view: View;
  source: Source | null;
  other: () => void;
  look: () => void;
}

function Take({ booth, student, view, source, other, leave, look }: TakeProps) {
  const film = useFilm();
  const [counting, setCounting] = useState<Counting>("silent");
  const [failed, setFailed] = useState("");
  const level = useLevel(source?.stream ?? null);
  const before = film.data?.take ?? student[view];
  const recording = useRecording(
    source,
    booth.prompts,
    (clip) => film.mutate({ student: student.id, view, again: before, clip }),
    setFailed,
  );
  const { asked } = recording;
  const first = booth.prompts[0];
  const says = (words: string, side: string) => (view === "side" ? side : words);
  return (
    <div className="filming">
      <Picture source={source} />
      <section aria-live="polite" className="asks">
        {asked ? (
          <>
            <p className="words">{says(asked.prompt.words, asked.prompt.side)}</p>
            <p className="count" data-prompt={asked.prompt.id}>
              {asked.number}
            </p>
            <Button variant="outline-secondary" onClick={recording.cancel}>
              {t("Stop")}
            </Button>
          </>
        ) : film.isPending ? (
          <p className="words">{t("One moment: is everything in the picture?")}</p>
        ) : film.data ? (
          <Result
            readable={film.data.readable}
            advice={film.data.advice}
            view={view}
            again={() => recording.start(counting)}
            other={other}
            leave={leave}
          />
        ) : (
          <>
            {first && <p className="words">{says(first.words, first.side)}</p>}
            {student.focus && (
              <p className="fs-5 serif">
                {t("Your one thing: “{{focus}}”", { focus: student.focus })}
              </p>
            )}
            {film.error && (
              <div role="alert" className="mb-3">
                <Refused error={film.error} />
                {isLost(film.error) && (
                  // The clip is still there: nobody has to play again.
                  <Button size="lg" onClick={() => film.mutate(film.variables)}>
                    {t("Send it again")}
                  </Button>
                )}
              </div>
            )}
            {failed && <p role="alert">{failed}</p>}
            <Button size="lg" disabled={!source} onClick={() => recording.start(counting)}>
              {source ? t("Start filming") : t("Waiting for the camera…")}
            </Button>{" "}
            <Button size="lg" variant="outline-secondary" disabled={!source} onClick={look}>
              {t("Mirror")}
            </Button>
            {student.target_hz !== null && (
              <p className="mt-3 mb-1">
                {t("Your note:")}{" "}
                <NoteButton
                  pitch={student.target}
                  hz={student.target_hz}
                  words={student.target_on}
                />
              </p>
            )}
            <Form.Group controlId="counting" className="mt-2">
              <Form.Label className="mb-0">{t("The counts before playing")}</Form.Label>
              <Form.Select
                value={counting}
                onChange={(event) => setCounting(event.target.value as Counting)}
              >
                <option value="silent">{t("silent, only on the screen")}</option>
                <option value="clicks">{t("clicks")}</option>
                {canSpeak() && <option value="aloud">{t("aloud")}</option>}
              </Form.Select>
            </Form.Group>
          </>
        )}
        <div className="level" role="img" aria-label={t("How loud it is")}>
          <span style={{ width: `${level * 100}%` }} />
        </div>
      </section>
    </div>
  );
}

interface ResultProps {
  readable: boolean;
  advice: string;
  view: View;
  again: () => void;
  other: () => void;
  leave: () => void;
}

function Result({ readable, advice, view, again, other, leave }: ResultProps) {
  if (!readable)
    return (
      <div role="alert">
        <p className="words">{advice}</p>
        <Button size="lg" onClick={again}>
          {t("Film again")}
        </Button>{" "}
        <Button size="lg" variant="outline-secondary" onClick={leave}>
          {t("Back to the names")}
        </Button>
      </div>
    );
  return (
    <div role="status">
      <p className="words">{t("Thank you. Everything is in the picture.")}</p>
      <div className="d-flex flex-wrap gap-2">
        {view === "front" && (
          <Button size="lg" onClick={other}>
            {t("Now from the side")}
          </Button>
        )}
        <Button
          size="lg"
          variant={view === "front" ? "outline-primary" : "primary"}
          onClick={leave}
        >
          {t("Next student")}
        </Button>
        <Button size="lg" variant="outline-secondary" onClick={again}>
          {t("Film again")}
        </Button>
      </div>
    </div>
  );
}
