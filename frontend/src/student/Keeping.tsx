/** Consent, how long is kept, and deleting for good. */
import { Button } from "react-bootstrap";
import { useNavigate } from "react-router";
import type { StudentPage } from "../api/client";
import { useDeleteStudent } from "../api/records";
import { counted, day, today } from "../shared/format";
import { DeleteDialog } from "../shared/DeleteDialog";
import { Refused } from "../shared/states";

interface Props {
  student: StudentPage;
  edit: () => void;
}

export function Keeping({ student, edit }: Props) {
  const { id, name, consent_on, consent_until, retain_until, takes } = student;
  const remove = useDeleteStudent(id);
  const navigate = useNavigate();
  const over = retain_until !== null && retain_until < today();
  return (
    <section aria-labelledby="keeping-title">
      <h2 id="keeping-title" className="h4">
        Consent and storage
      </h2>
      <dl className="facts">
        <dt>Filming consent</dt>
        <dd>
          {consent_on === null
            ? "none on file"
            : `since ${day(consent_on)}${consent_until ? `, until ${day(consent_until)}` : ""}`}
        </dd>
        <dt>Keep until</dt>
        <dd className={over ? "lost" : undefined}>
          {retain_until === null ? "no date set" : day(retain_until)}
          {over && ": date passed"}
        </dd>
      </dl>
      <Refused error={remove.error} />
      <div className="d-flex flex-wrap align-items-start gap-3">
        <Button variant="outline-secondary" size="sm" onClick={edit}>
          Change dates
        </Button>
        <a className="btn btn-outline-secondary btn-sm" href={`/api/students/${id}/data.zip`}>
          Export this student's data
        </a>
        <DeleteDialog
          what="this student"
          name={name}
          pending={remove.isPending}
          remove={() =>
            remove.mutate(undefined, {
              onSuccess: (left) => void navigate("/", { state: { notice: left?.detail } }),
            })
          }
        >
          {takes.length === 0 ? "The student" : `The student, ${counted(takes.length, "take")}`}{" "}
          and all measurements, plans and notes will be permanently deleted.
        </DeleteDialog>
      </div>
    </section>
  );
}
