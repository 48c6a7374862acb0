/** The margin: what is asked of the teacher, what was found, and what else can be said. */
import { useEffect, useRef } from "react";
import { Button } from "react-bootstrap";
import { useNavigate } from "react-router";
import type { BenchPage, Landmark } from "../api/client";
import type { Sound } from "../api/sound";
import { useTakeActions } from "../api/queries";
import { TakeProgress } from "../shared/TakeProgress";
import { Refused } from "../shared/states";
import { AddFinding } from "./AddFinding";
import { AllReadings } from "./AllReadings";
import { DeleteDialog } from "../shared/DeleteDialog";
import { FileButton } from "../shared/FileButton";
import { Depth } from "./Depth";
import { SoundPanel } from "./SoundPanel";
import { Findings } from "./Findings";
import { Guided } from "./Guided";
import { LetterChooser } from "./LetterChooser";
import { Observations } from "./Observations";
import { KnownLength, Placing } from "./Placing";
import { frameAt } from "./phases";
import { MarkLegend } from "./WindowBar";
import { TakeNotes } from "./TakeNotes";
import { SaidFirst, YouFirstSwitch } from "./YouFirst";
import type { Toggle } from "./toggles";
import type { BenchState } from "./useBench";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

interface Props {
  page: BenchPage;
  /** What is heard, once it is asked for; ``listen`` asks, null when it has. */
  sound: Sound | undefined;
  listen: (() => void) | null;
  landmarks: Landmark[];
  bench: BenchState;
  open: Toggle;
  setOpen: (open: Toggle) => void;
}

export function Margin({ page, sound, listen, landmarks, bench, open, setOpen }: Props) {
  const { take } = page;
  const { edits, frame, round } = bench;
  const actions = useTakeActions(take.id);
  const navigate = useNavigate();
  const ready = take.state === "ready";
  const margin = useRef<HTMLElement>(null);
  useEffect(() => {
    // What is asked for stands at the top.
    if (round !== null && margin.current) margin.current.scrollTop = 0;
  }, [round]);
  return (
    <aside className="margin" aria-label={t("Findings")} ref={margin}>
      <Refused
        error={
          edits.trouble ??
          actions.reread.error ??
          actions.remove.error ??
          actions.importMarks.error ??
          actions.keepDepth.error
        }
      />
      <SaidFirst page={page} />
      {page.notes.map((note) => (
        <p key={note} className="kicker">
          {note}
        </p>
      ))}
      {open === "letters" && (
        <LetterChooser
          phases={page.phases}
          set={bench.setEdge}
          another={bench.another}
          remove={bench.removePhase}
          close={() => setOpen(null)}
        />
      )}
      {bench.guiding && (
        <Guided
          page={page}
          landmarks={landmarks}
          frame={frame}
          goTo={bench.setFrame}
          follow={() => actions.reread.mutate()}
          notThere={bench.notThere}
          starting={actions.reread.isPending}
        />
      )}
      {ready && round !== null && (
        <Placing
          page={page}
          landmarks={landmarks}
          frame={frame}
          round={round}
          begin={bench.beginRound}
          notThere={bench.notThere}
        />
      )}
      {ready && (
        <>
          <Findings page={page} answers={bench.answers} />
          {round === null && (
            <Placing
              page={page}
              landmarks={landmarks}
              frame={frame}
              round={null}
              begin={bench.beginRound}
              notThere={bench.notThere}
            />
          )}
          {listen && (
            <p className="finding mb-0">
              <Button size="sm" variant="outline-primary" onClick={listen}>
                {t("Sound analysis")}
              </Button>
            </p>
          )}
          {sound && (
            <SoundPanel
              take={take.id}
              sound={sound}
              phases={page.phases}
              goTo={(at) => bench.setFrame(frameAt(page.times, at))}
              tick={(one) =>
                edits.send({
                  kind: "observe",
                  seen: [...page.observations.filter((o) => o.seen).map((o) => o.id), one],
                })
              }
              add={(fault, reason) =>
                edits.send({ kind: "decide", fault, phase: "hold", answer: "added", reason })
              }
            />
          )}
          <Observations
            observations={page.observations}
            triage={page.triage}
            open={open === "observations"}
            setOpen={(is) => {
              if (is !== (open === "observations")) setOpen(is ? "observations" : null);
            }}
            observe={(seen) => edits.send({ kind: "observe", seen })}
            waiting={edits.waiting > 0}
          />
          <AddFinding
            page={page}
            open={open === "own"}
            setOpen={(is) => setOpen(is ? "own" : null)}
            add={(fault, phase, reason) =>
              edits.send({ kind: "decide", fault, phase, answer: "added", reason })
            }
          />
          <Depth depth={page.depth} keep={(keep) => actions.keepDepth.mutate(keep)} />
          <AllReadings page={page} />
          {round === null && (
            <KnownLength
              page={page}
              begin={bench.beginRound}
              setLength={(known_mm) => edits.send({ kind: "length", known_mm })}
            />
          )}
        </>
      )}
      {(take.state === "waiting" || take.state === "working") && page.has_frames && (
        <TakeProgress take={take} />
      )}
      {take.state === "failed" && (
        <>
          <h2 className="h3">{t("This clip could not be analysed")}</h2>
          <p>{take.message}</p>
          <Button onClick={() => actions.reread.mutate()}>{t("Analyse again")}</Button>
        </>
      )}
      {ready && <MarksOfTake page={page} bench={bench} actions={actions} />}
      {page.times.length > 0 && (
        <TakeNotes
          page={page}
          frame={frame}
          goTo={bench.setFrame}
          open={open === "note"}
          setOpen={(is) => {
            if (is !== (open === "note")) setOpen(is ? "note" : null);
          }}
        />
      )}
      <div className="finding">
        <DeleteDialog
          what={t("this take")}
          remove={() =>
            actions.remove.mutate(undefined, {
              onSuccess: (left) =>
                void navigate(`/students/${take.student}`, {
                  state: { notice: left?.detail },
                }),
            })
          }
        >
          {t("The clip and all its measurements will be permanently deleted.")}
        </DeleteDialog>
      </div>
      {ready && <YouFirstSwitch />}
    </aside>
  );
}

/** The marks themselves: what their shapes say, accepting them, walking along them. */
function MarksOfTake({
  page,
  bench,
  actions,
}: {
  page: BenchPage;
  bench: BenchState;
  actions: ReturnType<typeof useTakeActions>;
}) {
  const { take, found_left: left } = page;
  return (
    <details className="finding">
      <summary>
        {t("Marks")}
        {left > 0 && (
          <span className="faint">{t(": {{left}} found, not checked", { left })}</span>
        )}
      </summary>
      <p className="mt-2 mb-2">
        <MarkLegend />
      </p>
      {left > 0 && (
        <Button
          size="sm"
          variant="outline-primary"
          className="me-2 mb-2"
          onClick={() => bench.edits.send({ kind: "accept" })}
        >
          {t("All {{left}} found marks as right", { left })}
        </Button>
      )}
      <Button
        size="sm"
        variant="outline-secondary"
        className="me-2 mb-2"
        onClick={() => bench.toKeyframe(-1)}
      >
        {t("Previous marked frame")}
      </Button>
      <Button
        size="sm"
        variant="outline-secondary"
        className="mb-2"
        onClick={() => bench.toKeyframe(1)}
      >
        {t("Next marked frame")}
      </Button>
      {take.view === "side" && (
        <Button
          size="sm"
          variant="outline-secondary"
          className="ms-2 mb-2"
          onClick={() => bench.beginRound("chin")}
        >
          {t("Draw the chin line")}
        </Button>
      )}
      <p className="kicker mb-0">
        <Rich
          text="Export: <a>marks</a>, <a2>full report</a2>, <a3>readings as CSV</a3>"
          parts={{
            a: <a href={`/api/takes/${take.id}/marks.json`} />,
            a2: <a href={`/api/takes/${take.id}/report.json`} />,
            a3: <a href={`/api/takes/${take.id}/readings.csv`} />,
          }}
        />
      </p>
      <FileButton
        label={t("Import marks from a file")}
        accept=".json,application/json"
        read={(text) => actions.importMarks.mutate(text)}
      />
    </details>
  );
}
