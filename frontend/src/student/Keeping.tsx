/** Consent, how long is kept, and deleting for good. */
import { Button } from "react-bootstrap";
import { useNavigate } from "react-router";
import type { StudentPage } from "../api/client";
import { useDeleteStudent } from "../api/records";
import { counted, day, today } from "../shared/format";
import { DeleteDialog } from "../shared/DeleteDialog";
import { Refused } from "../shared/states";
import { t } from "../shared/words";
import { MoveToColleague } from "./MoveToColleague";

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
        {t("Consent and storage")}
      </h2>
      <dl className="facts">
        <dt>{t("Filming consent")}</dt>
        <dd>
          {consent_on === null
            ? t("none on file")
            : t("since {{consent_on}}{{consent_until}}", {
                consent_on: day(consent_on),
                consent_until: consent_until
                  ? t(", until {{consent_until}}", { consent_until: day(consent_until) })
                  : "",
              })}
        </dd>
        <dt>{t("Keep until")}</dt>
        <dd className={over ? "lost" : undefined}>
          {retain_until === null ? t("no date set") : day(retain_until)}
          {over && t(": date passed")}
        </dd>
      </dl>
      <Refused error={remove.error} />
      <div className="d-flex flex-wrap align-items-start gap-3">
        <Button variant="outline-secondary" size="sm" onClick={edit}>
          {t("Change dates")}
        </Button>
        <a className="btn btn-outline-secondary btn-sm" href={`/api/students/${id}/data.zip`}>
          {t("Export this student's data")}
        </a>
        <MoveToColleague id={id} name={name} />
        <DeleteDialog
          what={t("this student")}
          name={name}
          pending={remove.isPending}
          remove={() =>
            remove.mutate(undefined, {
              onSuccess: (left) => void navigate("/", { state: { notice: left?.detail } }),
            })
          }
        >
          {t("{{take}} and all measurements, plans and notes will be permanently deleted.", {
            take:
              takes.length === 0
                ? t("The student")
                : t("The student, {{take}}", { take: counted(takes.length, "take") }),
          })}
        </DeleteDialog>
      </div>
    </section>
  );
}
