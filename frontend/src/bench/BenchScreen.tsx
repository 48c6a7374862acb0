import { useMemo, useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { BenchPage, Landmark } from "../api/client";
import { useSound } from "../api/sound";
import { useBand, useFreshTakes, useLandmarks, useTake } from "../api/queries";
import { TakeProgress } from "../shared/TakeProgress";
import { Trouble, Waiting } from "../shared/states";
import { useKeys } from "../shared/useKeys";
import { Heading } from "./Heading";
import { DrawingPanel } from "./DrawingPanel";
import { Margin } from "./Margin";
import { Score } from "./Score";
import { TakeWindow } from "./TakeWindow";
import { benchKeys } from "./benchKeys";
import { runOf } from "./desk";
import type { Toggle } from "./toggles";
import { useBench } from "./useBench";

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

/** The takes that wait, in the order the teacher goes through them. */
function useRun(take: number) {
  const navigate = useNavigate();
  const band = useBand();
  const lines = band.data?.next;
  const waiting = useMemo(
    () => (lines ?? []).filter((line) => line.opens && line.take !== null),
    [lines],
  );
  const ids = useMemo(() => waiting.map((line) => line.take as number), [waiting]);
  const run = useMemo(() => runOf(take, ids), [take, ids]);
  const at = run.indexOf(take);
  const next = [...run.slice(at + 1), ...run.slice(0, at)].find((id) => ids.includes(id));
  const before = at > 0 ? run[at - 1] : undefined;
  return {
    left: ids.filter((id) => id !== take).length,
    nextName: waiting.find((line) => line.take === next)?.name ?? null,
    hasBefore: before !== undefined,
    on: () => void navigate(next === undefined ? "/" : `/takes/${next}`),
    back: () => {
      if (before !== undefined) void navigate(`/takes/${before}`);
    },
  };
}

export type Run = ReturnType<typeof useRun>;

function Bench({ page, landmarks }: { page: BenchPage; landmarks: Landmark[] }) {
  const { take } = page;
  useFreshTakes(page.stale ? [take.id] : []);
  const hand = useBench(page, landmarks);
  const run = useRun(take.id);
  const navigate = useNavigate();
  const [open, setOpen] = useState<Toggle>(null);
  // Asked for, so that nothing moves under the hand that marks.
  const [listening, setListening] = useState(false);
  const sound = useSound(page, listening);
  // The tone's staves are two among the others; shown when what is heard is asked for, or when
  // a finding rests on them.
  const scored = useMemo(() => {
    const tone = page.tone.map((series) => ({ ...series, shown: series.shown || listening }));
    return { ...page, series: [...page.series, ...tone] };
  }, [page, listening]);
  const [allStaves, setAllStaves] = useState(false);
  const toggle = (what: Toggle) => {
    if (what === "staves") setAllStaves(!allStaves);
    else setOpen(what === open ? null : what);
  };
  const thenAndNow = () =>
    void navigate(`/students/${take.student}/then-and-now?now=${take.id}`);
  useKeys(benchKeys({ page, hand, toggle, on: run.on, back: run.back, thenAndNow }));

  return (
    <main className={take.state === "ready" ? "bench" : "bench undrawn"}>
      <Heading page={page} hand={hand} run={run} />
      {page.has_frames ? (
        <TakeWindow
          page={page}
          frame={hand.frame}
          setFrame={hand.setFrame}
          points={hand.points}
          landmarks={landmarks}
          marking={hand.marking}
          playback={hand.playback}
          sight={hand.sight}
          setSight={hand.setSight}
        />
      ) : (
        <section className="window d-grid align-items-center p-4 text-white">
          {take.state === "failed" ? <p>{take.message}</p> : <TakeProgress take={take} />}
        </section>
      )}
      <DrawingPanel
        page={page}
        frame={hand.frame}
        points={hand.points}
        preview={hand.preview}
        of={hand.of}
        setOf={hand.setOf}
      />
      {page.times.length > 0 ? (
        <Score
          page={scored}
          frame={hand.frame}
          setFrame={hand.steady.setFrame}
          setPhases={hand.steady.setPhases}
          all={allStaves}
          setAll={setAllStaves}
        />
      ) : (
        <div className="score" />
      )}
      <Margin
        page={page}
        sound={sound}
        listen={listening ? null : () => setListening(true)}
        landmarks={landmarks}
        hand={hand}
        open={open}
        setOpen={setOpen}
      />
    </main>
  );
}
