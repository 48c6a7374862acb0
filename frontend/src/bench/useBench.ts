/** What is in hand on the Bench, and what edits it brings about. */
import { useEffect, useMemo, useRef, useState } from "react";
import type { BenchPage, Finding, Landmark } from "../api/client";
import { useTakeEdits, type MarkPlace } from "../api/edits";
import { Delayed } from "../shared/delayed";
import type { DrawingOf } from "./DrawingPanel";
import { findingKey, inOrder, type Answers } from "./Findings";
import { guideFrame, stillAsked } from "./Guided";
import type { Marking } from "./MarksLayer";
import { roundAsked, type Round } from "./Placing";
import type { WindowView } from "./view";
import { usePosition, type Position } from "./position";
import { frameAt, nearest, withAnother, withEdge, type PhaseName, type Span } from "./phases";
import { usePlayback } from "./playback";
import { pointsOn } from "./points";
import { usePreview } from "./preview";
import { CHIN, placed, strokeFor } from "./strokes";

/** A nudged mark is sent when the keys have rested this long. */
const NUDGE_MS = 300;

/** Where to begin: in the middle of what is wrong, else of the tone, else at the start. */
function firstFrame(page: BenchPage): number {
  if (page.take.state === "needs-marks") return guideFrame(page) ?? 0;
  const worst = inOrder(page.findings).find((f) => f.worst_frame !== null)?.worst_frame;
  if (worst != null) return worst;
  const hold = page.phases.find((p) => p.name === "hold");
  return hold ? frameAt(page.times, (hold.start + hold.end) / 2) : 0;
}

function firstPosition(page: BenchPage): Position {
  return { frame: firstFrame(page), selected: null, round: null, dismissing: null };
}

export function useBench(page: BenchPage, landmarks: Landmark[]) {
  const { take, times } = page;
  const last = Math.max(times.length - 1, 0);
  const edits = useTakeEdits(page);
  const [position, setPosition] = usePosition(take.id, () => firstPosition(page));
  const playback = usePlayback();
  const [windowView, setWindowView] = useState<WindowView>({
    close: true,
    look: null,
  });
  const [of, setOf] = useState<DrawingOf>("frame");
  const [moved, setMoved] = useState<MarkPlace | null>(null);
  const [onTheWay, setOnTheWay] = useState<ReadonlySet<string>>(new Set());
  const [nudged] = useState(() => new Delayed());
  useEffect(() => () => nudged.flush(), [nudged]);

  // A take that was made anew may be shorter than it was.
  const frame = Math.min(position.frame, last);
  const { selected, dismissing } = position;
  const guiding = take.state === "needs-marks";
  const round = guiding ? null : position.round;
  const put = (part: Partial<Position>) => setPosition((now) => ({ ...now, ...part }));

  const setFrame = (next: number) => {
    nudged.flush();
    put({ frame: Math.min(Math.max(next, 0), last) });
    setMoved(null);
  };
  const unplaced = guiding
    ? stillAsked(page, landmarks)
    : round
      ? roundAsked(page, landmarks, round, frame)
      : [];
  // A hand may be faster than the answer: what is on its way is not asked for again.
  const asked = edits.waiting > 0 ? unplaced.filter((l) => !onTheWay.has(l.id)) : unplaced;
  const points = useMemo(
    () =>
      pointsOn(page, frame).map((p) =>
        p.landmark === moved?.landmark ? { ...p, x: moved.x, y: moved.y } : p,
      ),
    [page, frame, moved],
  );
  const inHand = points.find((p) => p.landmark === selected);
  const preview = usePreview(
    take.id,
    moved && take.state === "ready" ? { frame, marks: [moved] } : null,
  );

  function going(marks: { landmark: string }[]) {
    const ids = marks.map((m) => m.landmark);
    setOnTheWay((now) => new Set(edits.waiting > 0 ? [...now, ...ids] : ids));
  }

  function place(mark: MarkPlace) {
    going([mark]);
    // It stays where it was put until the server has followed it from there.
    setMoved(mark);
    edits.send(
      { kind: "marks", marks: [mark] },
      {
        onSettled: () =>
          setMoved((now) => (now?.x === mark.x && now.y === mark.y ? null : now)),
      },
    );
  }

  function drop(landmark: string, x: number, y: number, hidden = false) {
    nudged.flush();
    place({ landmark, frame, x, y, hidden });
  }

  function nudge(dx: number, dy: number): (event: KeyboardEvent) => void {
    return (event) => {
      if (!inHand) return;
      const step = event.shiftKey ? 5 : event.altKey ? 0.1 : 0.5;
      const { landmark, hidden } = inHand;
      const mark = {
        landmark,
        frame,
        x: inHand.x + dx * step,
        y: inHand.y + dy * step,
        hidden,
      };
      // One send for a run of presses.
      if (moved && moved.landmark !== landmark) nudged.flush();
      setMoved(mark);
      nudged.wait(NUDGE_MS, () => place(mark));
    };
  }

  const stroke = round === "chin" ? CHIN : strokeFor(asked);
  const marking: Marking = {
    selected,
    select: (landmark) => put({ selected: landmark }),
    move: (landmark, x, y) => setMoved({ landmark, frame, x, y, hidden: false }),
    drop,
    asked: asked.length > 0 ? placeAsked : null,
    stroke,
    onStroke: (path) => {
      if (!stroke) return;
      const marks = placed(stroke, path).map((m) => ({ ...m, frame, hidden: false }));
      const done = round === "chin" || asked.length === marks.length;
      put({ selected: null, round: done ? null : position.round });
      going(marks);
      edits.send({ kind: "marks", marks });
    },
  };

  function placeAsked(x: number, y: number) {
    const next = asked[0];
    if (!next) return;
    put({ selected: next.id, round: asked.length === 1 ? null : position.round });
    drop(next.id, x, y);
  }

  /** What is asked for next is not in the picture, or covered. */
  function notThere() {
    const next = asked[0];
    if (!next) return;
    put({ selected: null, round: asked.length === 1 ? null : position.round });
    drop(next.id, 0, 0, true);
  }

  /** A round begins on a frame of its own phase; a known length wherever the teacher is. */
  function beginRound(next: Round | null) {
    const phase = page.phases.find((p) => p.name === next);
    const seconds = times[frame] ?? 0;
    if (phase && (seconds < phase.start || seconds > phase.end))
      setFrame(frameAt(times, (phase.start + phase.end) / 2));
    put({ round: next, selected: null });
  }

  function setPhases(phases: Span[]) {
    edits.send({ kind: "phases", phases });
  }

  function setEdge(name: PhaseName, edge: "start" | "end") {
    setPhases(withEdge(page.phases, name, edge, times[frame] ?? 0, times[last] ?? 0));
  }

  function another(name: PhaseName) {
    setPhases(withAnother(page.phases, name, times[frame] ?? 0, times[last] ?? 0));
  }

  function removePhase(name: PhaseName) {
    const gone = nearest(page.phases, name, times[frame] ?? 0);
    setPhases(page.phases.filter((p) => p !== gone));
  }

  /** To the middle of the next or the previous hold: from tone to tone. */
  function toHold(step: 1 | -1) {
    const middles = page.phases
      .filter((p) => p.name === "hold")
      .map((p) => frameAt(times, (p.start + p.end) / 2));
    const next =
      step > 0 ? middles.find((n) => n > frame) : middles.reverse().find((n) => n < frame);
    if (next !== undefined) setFrame(next);
  }

  function cycle(step: number) {
    if (points.length === 0) return;
    const at = points.findIndex((p) => p.landmark === selected);
    put({ selected: points[(at + step + points.length) % points.length]?.landmark ?? null });
  }

  /** Frames on which the mark in hand was found or placed; of all marks when none is. */
  const keyframes = useMemo(() => {
    const mine = page.marks.filter((m) => selected === null || m.landmark === selected);
    return [...new Set(mine.map((m) => m.frame))].sort((a, b) => a - b);
  }, [page.marks, selected]);

  function toKeyframe(step: 1 | -1) {
    const next =
      step > 0
        ? keyframes.find((n) => n > frame)
        : [...keyframes].reverse().find((n) => n < frame);
    if (next !== undefined) setFrame(next);
  }

  const answers: Answers = {
    decide: (finding: Finding, answer, reason = "", why) =>
      edits.send({
        kind: "decide",
        fault: finding.fault,
        phase: finding.phase,
        answer,
        reason,
        ...(why && { why }),
      }),
    makeFocus: (finding) => edits.send({ kind: "focus", fault: finding.fault }),
    goTo: setFrame,
    observe: (seen) => edits.send({ kind: "observe", seen }),
    dismissing,
    setDismissing: (next) => put({ dismissing: next }),
  };

  // Kept the same from one drag to the next, so that the score is not drawn anew.
  const latest = useRef({ setFrame, setPhases });
  useEffect(() => {
    latest.current = { setFrame, setPhases };
  });
  const [steady] = useState(() => ({
    setFrame: (next: number) => latest.current.setFrame(next),
    setPhases: (phases: Span[]) => latest.current.setPhases(phases),
  }));

  return {
    frame,
    last,
    points,
    selected,
    inHand,
    asked,
    guiding,
    round,
    preview,
    keyframes,
    marking,
    answers,
    edits,
    playback,
    windowView,
    setWindowView,
    of,
    setOf,
    steady,
    setFrame,
    setEdge,
    another,
    removePhase,
    toHold,
    setPhases,
    beginRound,
    placeAsked,
    notThere,
    drop,
    nudge,
    cycle,
    toKeyframe,
    first: inOrder(page.findings)[0],
    flush: () => nudged.flush(),
    letGo: () => put({ selected: null, dismissing: null, round: null }),
    dismiss: (finding: Finding) =>
      put({ dismissing: { key: findingKey(finding), reason: "" } }),
  };
}

export type BenchState = ReturnType<typeof useBench>;
