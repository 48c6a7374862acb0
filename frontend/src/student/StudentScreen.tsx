import { useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useParams } from "react-router";
import type { TakeSummary } from "../api/client";
import { usePlans } from "../api/plans";
import { useStandards, useStudent } from "../api/queries";
import { TakeProgress } from "../shared/TakeProgress";
import { TakeDrawing } from "../shared/drawing/TakeDrawing";
import { day, today } from "../shared/format";
import { Glyph } from "../shared/glyphs";
import { Trouble, Waiting } from "../shared/states";
import { PlanPanel } from "../plan/PlanPanel";
import { StudentForm } from "./StudentForm";
import { UploadClip } from "./UploadClip";

export function StudentScreen() {
  const id = Number(useParams().id);
  const student = useStudent(id);
  const standards = useStandards();
  const [editing, setEditing] = useState(false);
  // With the plan or not at all: nothing may move away under a click.
  const plans = usePlans(id);
  if (student.isPending || plans.isPending) return <Waiting what="the student" />;
  if (student.isError)
    return <Trouble error={student.error} retry={() => void student.refetch()} />;
  const { name, instrument, school, consent_on, consent_until, takes } = student.data;
  const standard = standards.data?.find((s) => s.instrument === instrument);
  const chosen = standard?.schools.find((s) => s.id === school) ?? standard?.schools[0];
  const consented = consent_on !== null && (consent_until === null || consent_until >= today());
  return (
    <main className="page">
      <div className="d-flex align-items-baseline gap-3">
        <h1 className="mb-0">{name}</h1>
        <span className="faint">
          {standard?.name ?? instrument}
          {chosen ? `, ${chosen.name.toLowerCase()}` : ""}
        </span>
        <span className="flex-fill" />
        <Button variant="outline-secondary" size="sm" onClick={() => setEditing(true)}>
          Change facts
        </Button>
      </div>
      <p className="faint border-bottom pb-2">
        {consent_on
          ? `Consent to film since ${day(consent_on)}${consent_until ? `, until ${day(consent_until)}` : ""}.`
          : "No consent to film on file."}
      </p>
      <PlanPanel student={id} />
      <div className="row g-5">
        <section className="col-lg-7" aria-labelledby="takes-title">
          <h2 id="takes-title" className="h4">
            Takes
          </h2>
          {takes.length === 0 && (
            <p className="faint">
              No take yet. {consented ? "Send the first clip." : "Enter the consent first."}
            </p>
          )}
          {takes.map((take) => (
            <TakeLine key={take.id} take={take} />
          ))}
        </section>
        <section className="col-lg-5">
          {consented ? (
            <UploadClip student={id} />
          ) : (
            <>
              <h2 className="h4">No consent on file</h2>
              <p>
                Before {name} is filmed, the parents or guardians must agree. Enter the date of
                their consent; then clips can be sent.
              </p>
              <Button onClick={() => setEditing(true)}>Enter the consent</Button>
            </>
          )}
        </section>
      </div>
      {editing && <StudentForm student={student.data} close={() => setEditing(false)} />}
    </main>
  );
}

function resultWords(take: TakeSummary): [shape: string, words: string] {
  if (take.state === "needs-marks") return ["needs-marks", "Place the marks"];
  if (take.state === "failed") return ["failed", take.message];
  if (take.focus_name)
    return ["focus", `${take.focus_name}${take.answer === "confirmed" ? ", confirmed" : ""}`];
  if (take.result === "cant-tell") return ["cant-tell", "Can't tell"];
  if (take.result === "watch") return ["watch", "Something to watch"];
  return ["clear", "Nothing found"];
}

function TakeLine({ take }: { take: TakeSummary }) {
  const [shape, words] = resultWords(take);
  return (
    <div className="border-bottom py-2 take-line">
      <div className="small-drawing">
        <TakeDrawing take={take} width={92} height={72} />
      </div>
      <div>
        <Link to={`/takes/${take.id}`} className="serif fs-5">
          {day(take.filmed_on)}, {take.view}
        </Link>
        <span className="faint ms-2 figures">
          {take.original_name}
          {take.seconds !== null && `, ${take.seconds.toFixed(1)} s`}
        </span>
        <div>
          {take.state === "waiting" || take.state === "working" ? (
            <TakeProgress take={take} />
          ) : (
            <>
              <Glyph shape={shape} /> {words}
              {!take.read && take.state === "ready" && (
                <span className="faint"> (not read yet)</span>
              )}
            </>
          )}
        </div>
      </div>
    </div>
  );
}
