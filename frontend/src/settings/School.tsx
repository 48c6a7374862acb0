/** What an administrator sees of the school: automatic deletion, and clips nobody could analyse. */
import { Button } from "react-bootstrap";
import { useSchool, useSchoolEdits, type GivenUp } from "../api/people";
import { day } from "../shared/format";
import { Refused } from "../shared/states";
import { WarningForm } from "../shared/WarningForm";
import { t } from "../shared/words";

export function School() {
  const school = useSchool();
  const { agree, again } = useSchoolEdits();
  if (!school.data) return null;
  const { agreed_on, days, given_up } = school.data;
  return (
    <section aria-labelledby="school-title">
      <h2 id="school-title" className="h3">
        {t("For the whole school")}
      </h2>
      <h3 className="h5">{t("Automatic deletion")}</h3>
      <p>
        {agreed_on
          ? t(
              "Since {{agreed_on}}, in all bands, clips without consent and students past their keep-until date are deleted {{days}} days after the first warning.",
              { agreed_on: day(agreed_on), days },
            )
          : t("Each teacher decides whether anything is deleted automatically.")}
      </p>
      <WarningForm
        id="school-deletion-days"
        on={agreed_on !== null}
        days={days}
        busy={agree.isPending}
        words={{ on: t("Turn on for all bands"), off: t("Leave it to each teacher") }}
        agree={(chosen) => agree.mutate(chosen)}
      />
      <h3 className="h5">{t("Clips that could not be analysed")}</h3>
      <Refused error={agree.error ?? again.error} />
      {given_up.length === 0 ? (
        <p className="faint">{t("None.")}</p>
      ) : (
        <div className="table-responsive">
          <table className="table figures">
            <thead>
              <tr>
                <th scope="col">{t("Take")}</th>
                <th scope="col">{t("Teacher")}</th>
                <th scope="col">{t("View")}</th>
                <th scope="col">{t("Last tried")}</th>
                <th scope="col">
                  <span className="visually-hidden">{t("Try again")}</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {given_up.map((one) => (
                <Row
                  key={one.take}
                  clip={one}
                  busy={again.isPending}
                  again={() => again.mutate(one.take)}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}

function Row({ clip, busy, again }: { clip: GivenUp; busy: boolean; again: () => void }) {
  return (
    <tr>
      <th scope="row">{clip.take}</th>
      <td>{clip.teacher}</td>
      <td>{t(clip.view)}</td>
      <td>{clip.on ? day(clip.on) : ""}</td>
      <td>
        <Button size="sm" variant="outline-secondary" disabled={busy} onClick={again}>
          {t("Try again")}
        </Button>
      </td>
    </tr>
  );
}
