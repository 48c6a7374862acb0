import { viewWords } from "../shared/views";
import { useState } from "react";
import { Alert, Button } from "react-bootstrap";
import { CaptureLinks } from "../booth/CaptureLinks";
import { Link, useParams } from "react-router";
import type { StudentPage, TakeSummary } from "../api/client";
import { usePlans } from "../api/plans";
import { useStandards, useStudent } from "../api/queries";
import { useRecord } from "../api/records";
import { TakeProgress } from "../shared/TakeProgress";
import { PageLines } from "../shared/drawing/lines";
import { SmallDrawing } from "../shared/drawing/MeasuredDrawing";
import { TakeDrawing } from "../shared/drawing/TakeDrawing";
import { mouthOf } from "../shared/drawing/figure";
import { mayBeFilmed } from "../shared/consent";
import { day, fixed, inside, measured, today } from "../shared/format";
import { Glyph } from "../shared/glyphs";
import { useCalled } from "../shared/projector";
import { slipAddress } from "../shared/slip";
import { Trouble, Waiting } from "../shared/states";
import { ReedBox } from "../reeds/ReedBox";
import { PlanPanel } from "../plan/PlanPanel";
import { CorrectTake } from "./CorrectTake";
import { FindingsOverTime } from "./FindingsOverTime";
import { Keeping } from "./Keeping";
import { StudentForm } from "./StudentForm";
import { StudentNotes } from "./StudentNotes";
import { TimeLine } from "./TimeLine";
import { UploadClip } from "./UploadClip";
import { UploadPhotos } from "./UploadPhotos";
import { resultWords } from "./result";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

/** Families of instruments that have reeds. */
const REEDS = ["single-reed", "double-reed"];

/** More takes than this are shown when asked for. */
const FIRST_SIGHT = 6;

export function StudentScreen() {
  const id = Number(useParams().id);
  const student = useStudent(id);
  const standards = useStandards();
  const record = useRecord(id);
  const [editing, setEditing] = useState(false);
  const called = useCalled();
  // With the plan or not at all: nothing may move away under a click.
  const plans = usePlans(id);
  if (student.isPending || plans.isPending || record.isPending)
    return <Waiting what={t("the student")} />;
  if (student.isError)
    return <Trouble error={student.error} retry={() => void student.refetch()} />;
  const { name, instrument, school, takes } = student.data;
  const standard = standards.data?.find((s) => s.instrument === instrument);
  const chosen = standard?.schools.find((s) => s.id === school) ?? standard?.schools[0];
  const consented = mayBeFilmed(student.data, today());
  const both = plans.data ? [plans.data.running, ...plans.data.before] : [];
  return (
    <PageLines.Provider value={student.data.lines}>
      <main className="page">
        <title>{t("{{name}} – Sulvet", { name: called(name) })}</title>
        <div className="d-flex flex-wrap align-items-baseline gap-3 border-bottom pb-2 mb-3">
          <h1 className="mb-0">{called(name)}</h1>
          <span className="faint">
            {standard?.name ?? instrument}
            {chosen ? `, ${inside(chosen.name)}` : ""}
          </span>
          <span className="flex-fill" />
          <HandOut
            id={id}
            takes={takes}
            worked={plans.data?.running !== null}
            closed={student.data.closed !== ""}
          />
          <Link className="btn btn-sm btn-outline-secondary" to={`/lessons/${id}`}>
            {t("Lesson")}
          </Link>
          <Button variant="outline-secondary" size="sm" onClick={() => setEditing(true)}>
            {t("Edit student")}
          </Button>
        </div>
        {student.data.closed && (
          <Alert variant="danger" className="py-2 px-3">
            {student.data.closed}{" "}
            {student.data.deleted_on &&
              t("Sulvet deletes them on {{deleted_on}}.", {
                deleted_on: day(student.data.deleted_on),
              })}
          </Alert>
        )}
        <TimeLine
          takes={takes}
          plans={both.filter((plan) => plan !== null && plan !== undefined)}
        />
        <PlanPanel student={id} />
        <div className="row g-5">
          <div className="col-lg-7">
            {record.data && <FindingsOverTime record={record.data} />}
            <Takes takes={takes} consented={consented} />
          </div>
          <div className="col-lg-5">
            <RestFace takes={takes} />
            {student.data.tape_mm !== null && <Tape student={student.data} />}
            {standard && REEDS.includes(standard.family) && <ReedBox student={id} />}
            {consented ? (
              <>
                {takes.length === 0 && (
                  <p>
                    <Rich
                      text="Before the first take: <a>the set-up card</a>."
                      parts={{ a: <Link to={`/lessons/${id}`} /> }}
                    />
                  </p>
                )}
                <UploadClip
                  key={standard?.instrument}
                  student={id}
                  first={standard?.film[0] ?? "front"}
                />
                <UploadPhotos
                  key={`photos ${standard?.instrument}`}
                  student={id}
                  first={standard?.film[0] ?? "front"}
                />
                <CaptureLinks student={id} first={standard?.film[0] ?? "front"} />
              </>
            ) : (
              <section>
                <h2 className="h4">{t("No consent on file")}</h2>
                <p>
                  {t(
                    "Before {{name}} is filmed, the parents or guardians must agree. Enter the date of their consent; then you can upload clips.",
                    { name: called(name) },
                  )}
                </p>
                <Button onClick={() => setEditing(true)}>{t("Enter consent")}</Button>
              </section>
            )}
            <div className="mt-4">
              {record.data && <StudentNotes student={id} record={record.data} />}
              <Keeping student={student.data} edit={() => setEditing(true)} />
            </div>
          </div>
        </div>
        {editing && <StudentForm student={student.data} close={() => setEditing(false)} />}
      </main>
    </PageLines.Provider>
  );
}

/** What goes out of the house: the comparison for a talk, the slip for home. */
function HandOut(props: {
  id: number;
  takes: TakeSummary[];
  worked: boolean;
  closed: boolean;
}) {
  const { id, takes, worked, closed } = props;
  const ready = takes.filter((take) => take.state === "ready");
  const alike = ready.some((take, n) =>
    ready.slice(n + 1).some((other) => other.view === take.view),
  );
  // Of what the newest take no longer shows there is no slip.
  const slip = worked || ready[0]?.focus != null ? ready[0] : undefined;
  return (
    <>
      {alike && !closed && (
        <Link className="btn btn-sm btn-primary" to={`/students/${id}/then-and-now`}>
          {t("Then and now")}
        </Link>
      )}
      {slip && (
        <a
          className="btn btn-sm btn-outline-secondary"
          href={slipAddress(slip.id)}
          target="_blank"
          rel="noreferrer"
        >
          {t("Slip")}
        </a>
      )}
    </>
  );
}

/** Where the tape on the mouthpiece goes, as it was kept from a take. */
function Tape({ student }: { student: StudentPage }) {
  const { tape_mm: mm, tape_spread: spread, tape_on: kept } = student;
  if (mm === null) return null;
  return (
    <p className="mb-4">
      <strong>
        {t("Tape on the mouthpiece: {{mm}} from the tip", {
          mm: measured(mm, spread ?? 0, 1, "mm"),
        })}
      </strong>
      {kept && t(", as on {{kept}}", { kept: day(kept) })}
      {t(". The upper teeth rest on its edge.")}
    </p>
  );
}

/** What all is compared with: the newest rest face from the front, else from the side. */
function RestFace({ takes }: { takes: TakeSummary[] }) {
  const drawn = takes.filter((take) => take.drawing !== null);
  const take = drawn.find((one) => one.view === "front") ?? drawn[0];
  if (!take?.drawing) return null;
  const rest = mouthOf(take.drawing.rest);
  return (
    <figure className="rest-face mb-4">
      <SmallDrawing drawing={take.drawing} mouth={rest} width={250} height={150} />
      <figcaption>
        <strong className="serif fs-5">{t("Rest face")}</strong>
        <span className="kicker d-block">
          {t("As on {{filmed_on}}. Everything is measured against it.", {
            filmed_on: day(take.filmed_on),
          })}
        </span>
      </figcaption>
    </figure>
  );
}

function Takes({ takes, consented }: { takes: TakeSummary[]; consented: boolean }) {
  const [all, showAll] = useState(false);
  const shown = all ? takes : takes.slice(0, FIRST_SIGHT);
  return (
    <section aria-labelledby="takes-title" className="student-takes">
      <h2 id="takes-title" className="h4">
        {t("Takes")}
      </h2>
      {takes.length === 0 && (
        <p className="faint">
          {t("No take yet. {{next}}", {
            next: consented ? t("Upload the first clip.") : t("Enter consent first."),
          })}
        </p>
      )}
      {shown.map((take) => (
        <TakeLine key={take.id} take={take} />
      ))}
      {shown.length < takes.length && (
        <Button variant="link" className="p-0 mt-2" onClick={() => showAll(true)}>
          {t("{{count}} older takes", { count: takes.length - shown.length })}
        </Button>
      )}
    </section>
  );
}

/** What there is room for here and not on the time line. */
function inFull(take: TakeSummary): string {
  if (take.state === "failed") return take.message;
  return take.result === "unchecked" ? take.headline : "";
}

function TakeLine({ take }: { take: TakeSummary }) {
  const [editing, setEditing] = useState(false);
  const [shape, words] = resultWords(take);
  return (
    <div className="border-bottom py-2 take-line">
      <div className="small-drawing">
        <TakeDrawing take={take} width={92} height={72} />
      </div>
      <div>
        <Link to={`/takes/${take.id}`} className="serif fs-5">
          {day(take.filmed_on)}, {viewWords(take.view)}
        </Link>
        <span className="faint ms-2 figures">
          {take.original_name}
          {take.seconds !== null && `, ${fixed(take.seconds, 1)} s`}
        </span>
        <div>
          {take.state === "waiting" || take.state === "working" ? (
            <TakeProgress take={take} />
          ) : (
            <>
              <Glyph shape={shape} /> {inFull(take) || words}
              {!take.read && take.state === "ready" && (
                <span className="faint"> {t("(not reviewed yet)")}</span>
              )}
            </>
          )}
        </div>
      </div>
      <Button
        variant="link"
        size="sm"
        className="p-0 faint align-self-start"
        aria-label={t("Edit take of {{filmed_on}}, {{view}}", {
          filmed_on: day(take.filmed_on),
          view: take.view,
        })}
        onClick={() => setEditing(true)}
      >
        {t("Edit")}
      </Button>
      {editing && <CorrectTake take={take} close={() => setEditing(false)} />}
    </div>
  );
}
