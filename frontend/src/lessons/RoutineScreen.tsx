/** A routine run with a class: one drill after the other, large enough for the last row. */
import { useEffect, useMemo, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useParams } from "react-router";
import { useLibrary, type Routine } from "../api/lessons";
import { NoteButton } from "../shared/NoteButton";
import { counted } from "../shared/format";
import { Trouble, Waiting } from "../shared/states";
import { DrillPlayer } from "../plan/DrillPlayer";
import { echoed } from "../plan/counting";
import { t } from "../shared/words";

export default function RoutineScreen() {
  const { id } = useParams();
  const library = useLibrary();
  if (library.isPending) return <Waiting what={t("the routine")} />;
  if (library.isError)
    return <Trouble error={library.error} retry={() => void library.refetch()} />;
  const routine = library.data.routines.find((one) => one.id === id);
  if (!routine) return <Trouble error={new Error(t("There is no such routine."))} />;
  return <Run key={routine.id} routine={routine} />;
}

function Run({ routine }: { routine: Routine }) {
  const [at, setAt] = useState(0);
  /** Whether the class is asked how it feels, before it goes on. */
  const [asks, setAsks] = useState(false);
  const part = routine.parts[at];
  const goTo = (next: number) => {
    setAsks(false);
    setAt(next);
  };
  const over = () => (part?.drill.breathing ? setAsks(true) : goTo(at + 1));
  return (
    <main className="page lessons routine">
      <title>{t("{{name}} – Sulvet", { name: routine.name })}</title>
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-3">
        <h1 className="mb-0">{routine.name}</h1>
        <span className="faint">{routine.about}</span>
        <span className="flex-fill" />
        <Link to="/drills">{t("All drills")}</Link>
      </div>
      <div className="routine-columns">
        <ol aria-label={t("Drills of the routine")}>
          {routine.parts.map((one, n) => (
            <li key={n}>
              <button
                type="button"
                aria-current={n === at ? "step" : undefined}
                onClick={() => goTo(n)}
              >
                {one.drill.name}
                <span className="kicker d-block">{one.on}</span>
              </button>
            </li>
          ))}
        </ol>
        {part === undefined ? (
          <section className="text-center py-5">
            <p className="fs-2 serif">{t("Done. Rest as long as you played.")}</p>
            <Button size="lg" variant="outline-secondary" onClick={() => goTo(0)}>
              {t("Once more")}
            </Button>
          </section>
        ) : asks ? (
          <section className="text-center py-5" role="alert">
            <p className="fs-2 serif">{t("Is anybody dizzy or light-headed?")}</p>
            <p className="fs-5">{t("Sit down and breathe as you like. We wait.")}</p>
            <Button size="lg" onClick={() => goTo(at + 1)}>
              {t("Everybody is fine, go on")}
            </Button>
          </section>
        ) : (
          <Current key={at} routine={routine} at={at} over={over} />
        )}
      </div>
    </main>
  );
}

interface CurrentProps {
  routine: Routine;
  at: number;
  over: () => void;
}

function Current({ routine, at, over }: CurrentProps) {
  const part = routine.parts[at];
  const beats = useMemo(() => {
    const own = part?.drill.counting?.beats ?? [];
    return part?.echo ? echoed(own) : own;
  }, [part]);
  if (!part) return null;
  const { drill } = part;
  const notes = routine.targets.filter((t) => t.stage === drill.stage);
  return (
    <section aria-label={drill.name} className="current">
      <h2>
        {drill.name} <span className="faint fs-4">{part.on}</span>
      </h2>
      <ol className="steps serif">
        {drill.steps.map((step) => (
          <li key={step}>{step}</li>
        ))}
      </ol>
      {part.hum && notes.length > 0 && (
        <details open={notes.length < 7} className="mb-2">
          <summary>{t("Sound the note, let them hum it, then play")}</summary>
          <div className="d-flex flex-wrap gap-2 mt-2">
            {notes.map((t, n) => (
              <NoteButton
                key={n}
                pitch={t.pitch}
                hz={t.hz}
                words={t.words ? `${t.stage_words}, ${t.words}` : t.stage_words}
              />
            ))}
          </div>
        </details>
      )}
      {part.silent && <p className="fs-5">{t("Without a tone.")}</p>}
      {beats.length > 0 ? (
        <DrillPlayer name={drill.name} tempo={routine.tempo} beats={beats} done={over} />
      ) : (
        <>
          {part.echo && <EchoTurns />}
          <Stopwatch />
        </>
      )}
      {drill.caution && <p className="caution">{drill.caution}</p>}
      <div className="d-flex gap-3 align-items-center mt-3">
        <Button size="lg" onClick={over}>
          {at + 1 < routine.parts.length ? t("Next drill") : t("Finish")}
        </Button>
        <span className="faint">
          {t("{{counts}}; about {{minute}}", {
            counts: drill.counts,
            minute: counted(drill.minutes, "minute"),
          })}
        </span>
      </div>
    </section>
  );
}

/** Teacher, class, teacher, class: for what is not counted. */
function EchoTurns() {
  const [turn, setTurn] = useState(0);
  return (
    <p className="echo">
      <button type="button" onClick={() => setTurn(turn + 1)} aria-live="polite">
        <strong>{turn % 2 === 0 ? t("Teacher") : t("Class")}</strong>
        <span className="kicker d-block">{t("tap for the next turn")}</span>
      </button>
    </p>
  );
}

/** Seconds of what is done as long as it lasts; the longest is kept. */
function Stopwatch() {
  const [began, setBegan] = useState<number | null>(null);
  const [seconds, setSeconds] = useState(0);
  const [longest, setLongest] = useState(0);
  useEffect(() => {
    if (began === null) return;
    const timer = window.setInterval(
      () => setSeconds(Math.floor((performance.now() - began) / 1000)),
      100,
    );
    return () => window.clearInterval(timer);
  }, [began]);
  return (
    <div className="drill-player" role="group" aria-label={t("Stopwatch")}>
      <p className="now serif">
        <strong className="figures">{seconds}</strong>
        <span className="faint fs-5 ms-2">{t("seconds")}</span>
        {longest > 0 && (
          <span className="faint fs-5 ms-3">{t("longest {{longest}}", { longest })}</span>
        )}
      </p>
      <Button
        onClick={() => {
          if (began === null) setSeconds(0);
          else setLongest(Math.max(longest, seconds));
          setBegan(began === null ? performance.now() : null);
        }}
      >
        {began === null ? t("Start the seconds") : t("Stop")}
      </Button>
    </div>
  );
}
