import { useEffect, useMemo, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useNavigate, useParams } from "react-router";
import type { BenchPage, Finding, Landmark } from "../api/client";
import { useBand, useLandmarks, useTake, useTakeEdits } from "../api/queries";
import { TakeProgress } from "../shared/TakeProgress";
import { Delayed } from "../shared/delayed";
import { day } from "../shared/format";
import { Refused, Trouble, Waiting } from "../shared/states";
import { useKeys, type Keys } from "../shared/useKeys";
import { Guided, guideFrame, stillAsked } from "./Guided";
import { Findings, findingKey, type Answers } from "./Margin";
import { KnownLength, Placing, roundAsked, type Round } from "./Placing";
import { Score } from "./Score";
import { TakeWindow } from "./TakeWindow";
import { frameAt, withEdge, type PhaseName } from "./phases";
import { pointsOn } from "./points";

export default function BenchScreen() {
  const id = Number(useParams().id);
  const take = useTake(id);
  const landmarks = useLandmarks();
  if (take.isPending || landmarks.isPending) return <Waiting what="the take" />;
  if (take.isError) return <Trouble error={take.error} retry={() => void take.refetch()} />;
  if (landmarks.isError) return <Trouble error={landmarks.error} />;
  // A take read anew begins anew: no frame or mark in hand of the old reading.
  return (
    <Bench key={`${id} ${take.data.take.state}`} page={take.data} landmarks={landmarks.data} />
  );
}

/** A nudged mark is sent when the keys have rested this long. */
const NUDGE_MS = 300;

/** Where to begin: in the middle of what is wrong, else of the tone, else at the start. */
function firstFrame(page: BenchPage): number {
  if (page.take.state === "needs-marks") return guideFrame(page) ?? 0;
  const worst = page.findings.find((f) => f.worst_frame !== null)?.worst_frame;
  if (worst != null) return worst;
  const hold = page.phases.find((p) => p.name === "hold");
  return hold ? frameAt(page.times, (hold.start + hold.end) / 2) : 0;
}

function Bench({ page, landmarks }: { page: BenchPage; landmarks: Landmark[] }) {
  const { take, times } = page;
  const navigate = useNavigate();
  const band = useBand();
  const edits = useTakeEdits(take.id);
  const [frame, putFrame] = useState(() => firstFrame(page));
  const [selected, select] = useState<string | null>(null);
  const [moved, setMoved] = useState<{ landmark: string; x: number; y: number } | null>(null);
  const [playing, setPlaying] = useState(false);
  const [close, setClose] = useState(true);
  const [dismissing, setDismissing] = useState<string | null>(null);
  const last = times.length - 1;
  const guiding = take.state === "needs-marks";
  const [round, setRound] = useState<Round | null>(null);
  const asked = guiding
    ? stillAsked(page, landmarks)
    : round
      ? roundAsked(page, landmarks, round, frame)
      : [];
  const following = band.data?.next.find(
    (line) =>
      line.take !== null &&
      line.take !== take.id &&
      ["new-take", "needs-marks"].includes(line.state),
  );

  const [nudged] = useState(() => new Delayed());
  useEffect(() => () => nudged.flush(), [nudged]);

  const setFrame = (next: number) => {
    nudged.flush();
    putFrame(Math.min(Math.max(next, 0), Math.max(last, 0)));
    setMoved(null);
  };
  const points = useMemo(
    () =>
      pointsOn(page, frame).map((p) =>
        p.landmark === moved?.landmark ? { ...p, ...moved } : p,
      ),
    [page, frame, moved],
  );
  const inHand = points.find((p) => p.landmark === selected);

  function drop(landmark: string, x: number, y: number, hidden = false) {
    nudged.flush();
    place(landmark, x, y, hidden);
  }

  function place(landmark: string, x: number, y: number, hidden: boolean) {
    // It stays where it was put until the server has followed it from there.
    setMoved({ landmark, x, y });
    edits.placeMark.mutate(
      { landmark, frame, x, y, hidden },
      { onSettled: () => setMoved((now) => (now?.x === x && now.y === y ? null : now)) },
    );
  }

  function nudge(dx: number, dy: number): (event: KeyboardEvent) => void {
    return (event) => {
      if (!inHand) return;
      const step = event.shiftKey ? 5 : event.altKey ? 0.1 : 0.5;
      const { landmark, hidden } = inHand;
      const [x, y] = [inHand.x + dx * step, inHand.y + dy * step];
      // One send for a run of presses.
      if (moved && moved.landmark !== landmark) nudged.flush();
      setMoved({ landmark, x, y });
      nudged.wait(NUDGE_MS, () => place(landmark, x, y, hidden));
    };
  }

  function placeAsked(x: number, y: number) {
    const next = asked[0];
    if (!next) return;
    select(next.id);
    drop(next.id, x, y);
    if (asked.length === 1) setRound(null);
  }

  /** A round begins on a frame of its own phase; a known length wherever the teacher is. */
  function beginRound(next: Round | null) {
    const phase = page.phases.find((p) => p.name === next);
    const seconds = times[frame] ?? 0;
    if (phase && (seconds < phase.start || seconds > phase.end))
      setFrame(frameAt(times, (phase.start + phase.end) / 2));
    setRound(next);
  }

  function setEdge(name: PhaseName, edge: "start" | "end") {
    edits.setPhases.mutate(
      withEdge(page.phases, name, edge, times[frame] ?? 0, times[last] ?? 0),
    );
  }

  function cycle(step: number) {
    if (points.length === 0) return;
    const at = points.findIndex((p) => p.landmark === selected);
    select(points[(at + step + points.length) % points.length]?.landmark ?? null);
  }

  const first = page.findings.find((f) => f.verdict !== "can't tell");
  const answers: Answers = {
    decide: (finding: Finding, answer, reason = "") =>
      edits.decide.mutate(
        { fault: finding.fault, phase: finding.phase, answer, reason },
        { onSuccess: () => setDismissing(null) },
      ),
    goTo: setFrame,
    dismissing,
    setDismissing,
    busy: edits.decide.isPending,
  };

  function goOn() {
    void navigate(following?.take != null ? `/takes/${following.take}` : "/");
  }

  const arrows: Keys = {};
  for (const modifier of ["", "Shift+", "Alt+"]) {
    arrows[`${modifier}ArrowLeft`] = nudge(-1, 0);
    arrows[`${modifier}ArrowRight`] = nudge(1, 0);
    arrows[`${modifier}ArrowUp`] = nudge(0, -1);
    arrows[`${modifier}ArrowDown`] = nudge(0, 1);
  }
  useKeys({
    ...arrows,
    q: () => setFrame(frame - 1),
    w: () => setFrame(frame + 1),
    "Shift+q": () => setFrame(frame - 10),
    "Shift+w": () => setFrame(frame + 10),
    " ": () => setPlaying(!playing),
    e: () => setEdge("rest", "start"),
    "Shift+e": () => setEdge("rest", "end"),
    o: () => setEdge("hold", "start"),
    "Shift+o": () => setEdge("hold", "end"),
    m: () => cycle(1),
    "Shift+m": () => cycle(-1),
    x: () => {
      if (inHand) drop(inHand.landmark, inHand.x, inHand.y, !inHand.hidden);
    },
    u: () => {
      nudged.flush();
      if (selected) edits.removeMark.mutate({ landmark: selected, frame });
    },
    Enter: () => placeAsked(page.width / 2, page.height / 2),
    f: () => {
      if (first?.worst_frame != null) setFrame(first.worst_frame);
    },
    c: () => {
      if (first && first.answer === null) answers.decide(first, "confirmed");
    },
    d: () => {
      if (first && first.answer === null) setDismissing(findingKey(first));
    },
    r: () => edits.setRead.mutate(!take.read),
    n: goOn,
    Escape: () => {
      select(null);
      setDismissing(null);
      setRound(null);
    },
  });

  const trouble =
    edits.placeMark.error ??
    edits.removeMark.error ??
    edits.setPhases.error ??
    edits.setLength.error ??
    edits.decide.error ??
    edits.setRead.error ??
    edits.lookAgain.error ??
    edits.remove.error;
  const working =
    edits.placeMark.isPending ||
    edits.removeMark.isPending ||
    edits.setPhases.isPending ||
    edits.setLength.isPending;

  return (
    <main className="bench">
      <div className="heading">
        <h1>
          <Link to={`/students/${take.student}`} className="text-body text-decoration-none">
            {page.student_name}
          </Link>
        </h1>
        <span className="faint">
          {page.instrument}, {page.school.toLowerCase()}; {day(take.filmed_on)}, {take.view}
        </span>
        <span role="status" className="faint">
          {working ? "Measuring again …" : ""}
        </span>
        <span className="flex-fill" />
        {take.state === "ready" && (
          <>
            <Button
              size="sm"
              variant="outline-secondary"
              aria-pressed={take.read}
              onClick={() => edits.setRead.mutate(!take.read)}
            >
              {take.read ? "Read ✓" : "Mark as read"}
            </Button>
            <Button size="sm" onClick={() => edits.setRead.mutate(true, { onSuccess: goOn })}>
              {following
                ? `Done, on to ${following.name.split(" ")[0] ?? ""}`
                : "Done, back to the band"}
            </Button>
          </>
        )}
      </div>
      {page.has_frames ? (
        <TakeWindow
          page={page}
          frame={frame}
          setFrame={setFrame}
          points={points}
          landmarks={landmarks}
          selected={selected}
          select={select}
          moveMark={(landmark, x, y) => setMoved({ landmark, x, y })}
          dropMark={drop}
          onPicture={asked.length > 0 ? placeAsked : null}
          playing={playing}
          setPlaying={setPlaying}
          close={close}
          setClose={setClose}
        />
      ) : (
        <section className="window d-grid align-items-center p-4 text-white">
          {take.state === "failed" ? <p>{take.message}</p> : <TakeProgress take={take} />}
        </section>
      )}
      {times.length > 0 ? (
        <Score
          page={page}
          frame={frame}
          seek={(seconds) => setFrame(frameAt(times, seconds))}
          setPhases={(phases) => edits.setPhases.mutate(phases)}
        />
      ) : (
        <div className="score" />
      )}
      <aside className="margin" aria-label="Findings">
        <Refused error={trouble} />
        {page.notes.map((note) => (
          <p key={note} className="kicker">
            {note}
          </p>
        ))}
        {guiding && (
          <Guided
            page={page}
            landmarks={landmarks}
            frame={frame}
            goTo={setFrame}
            follow={() => edits.lookAgain.mutate()}
            starting={edits.lookAgain.isPending}
          />
        )}
        {take.state === "ready" && (
          <Placing
            page={page}
            landmarks={landmarks}
            frame={frame}
            round={round}
            begin={beginRound}
          />
        )}
        {take.state === "ready" && <Findings page={page} answers={answers} />}
        {take.state === "ready" && round === null && (
          <KnownLength
            page={page}
            begin={beginRound}
            setLength={(mm) => edits.setLength.mutate(mm)}
          />
        )}
        {(take.state === "waiting" || take.state === "working") && page.has_frames && (
          <TakeProgress take={take} />
        )}
        {take.state === "failed" && (
          <>
            <h2 className="h3">This clip could not be read</h2>
            <p>{take.message}</p>
            <Button onClick={() => edits.lookAgain.mutate()}>Read again</Button>
          </>
        )}
        <DeleteTake
          remove={() =>
            edits.remove.mutate(undefined, {
              onSuccess: () => void navigate(`/students/${take.student}`),
            })
          }
        />
        {take.state === "ready" && (
          <p className="kicker mt-2">
            Take out: <a href={`/api/takes/${take.id}/marks.json`}>marks</a>,{" "}
            <a href={`/api/takes/${take.id}/report.json`}>whole report</a>
          </p>
        )}
      </aside>
    </main>
  );
}

function DeleteTake({ remove }: { remove: () => void }) {
  const [asking, ask] = useState(false);
  return (
    <div className="finding">
      {asking ? (
        <div role="alertdialog" aria-label="Delete this take">
          <p>The clip and all that was measured on it go for good.</p>
          <Button variant="danger" size="sm" onClick={remove} className="me-2" autoFocus>
            Delete for good
          </Button>
          <Button variant="outline-secondary" size="sm" onClick={() => ask(false)}>
            Keep it
          </Button>
        </div>
      ) : (
        <Button variant="link" size="sm" className="p-0 faint" onClick={() => ask(true)}>
          Delete this take …
        </Button>
      )}
    </div>
  );
}
