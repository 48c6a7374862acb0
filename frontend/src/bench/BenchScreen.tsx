import { useMemo, useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { BenchPage, Landmark } from "../api/client";
import { useSound } from "../api/sound";
import { useFreshTakes, useLandmarks, useTake } from "../api/queries";
import { TakeProgress } from "../shared/TakeProgress";
import { Trouble, Waiting } from "../shared/states";
import { useCalled } from "../shared/projector";
import { useKeys } from "../shared/useKeys";
import { Heading } from "./Heading";
import { DrawingPanel } from "./DrawingPanel";
import { Margin } from "./Margin";
import { Score } from "./Score";
import { TakeWindow } from "./TakeWindow";
import { SayFirst, useCovered } from "./YouFirst";
import { benchKeys } from "./benchKeys";
import { useTakeQueue } from "./takeQueue";
import type { Toggle } from "./toggles";
import { useBench } from "./useBench";
import { t } from "../shared/words";

export default function BenchScreen() {
  const id = Number(useParams().id);
  const take = useTake(id);
  const landmarks = useLandmarks();
  if (take.isPending || landmarks.isPending) return <Waiting what={t("the take")} />;
  if (take.isError) return <Trouble error={take.error} retry={() => void take.refetch()} />;
  if (landmarks.isError) return <Trouble error={landmarks.error} />;
  // A take read anew begins anew: no frame or mark in hand of the old reading.
  return (
    <Bench key={`${id} ${take.data.take.state}`} page={take.data} landmarks={landmarks.data} />
  );
}

function Bench({ page, landmarks }: { page: BenchPage; landmarks: Landmark[] }) {
  const { take } = page;
  useFreshTakes(page.stale ? [take.id] : []);
  const bench = useBench(page, landmarks);
  const queue = useTakeQueue(take.id);
  const navigate = useNavigate();
  const called = useCalled();
  const covered = useCovered(page);
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
  useKeys(benchKeys({ page, bench, toggle, on: queue.on, back: queue.back, thenAndNow }));

  return (
    <main className={take.state === "ready" ? "bench" : "bench undrawn"}>
      <title>
        {t("{{student_name}} – Sulvet", { student_name: called(page.student_name) })}
      </title>
      <Heading page={page} bench={bench} queue={queue} />
      {page.has_frames ? (
        <TakeWindow
          page={page}
          frame={bench.frame}
          setFrame={bench.setFrame}
          points={bench.points}
          landmarks={landmarks}
          marking={bench.marking}
          playback={bench.playback}
          windowView={bench.windowView}
          setWindowView={bench.setWindowView}
        />
      ) : (
        <section className="window d-grid align-items-center p-4 text-white">
          {page.closed || take.state === "failed" ? (
            <p>{page.closed || take.message}</p>
          ) : (
            <TakeProgress take={take} />
          )}
        </section>
      )}
      {covered ? (
        <section className="covered" aria-label={t("Covered")}>
          <p className="faint">{t("Covered until you have said what you see.")}</p>
        </section>
      ) : (
        <DrawingPanel
          page={page}
          frame={bench.frame}
          points={bench.points}
          preview={bench.preview}
          of={bench.of}
          setOf={bench.setOf}
        />
      )}
      {page.times.length > 0 && !covered ? (
        <Score
          page={scored}
          frame={bench.frame}
          setFrame={bench.steady.setFrame}
          setPhases={bench.steady.setPhases}
          all={allStaves}
          setAll={setAllStaves}
        />
      ) : (
        <div className="score" />
      )}
      {covered ? (
        <SayFirst page={page} />
      ) : (
        <Margin
          page={page}
          sound={sound}
          listen={listening ? null : () => setListening(true)}
          landmarks={landmarks}
          bench={bench}
          open={open}
          setOpen={setOpen}
        />
      )}
    </main>
  );
}
