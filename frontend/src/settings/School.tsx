/** What an administrator sees of the school: automatic deletion, and clips nobody could analyse. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useSchool, useSchoolEdits, type GivenUp } from "../api/people";
import { day } from "../shared/format";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

export function School() {
  const school = useSchool();
  const { agree, again } = useSchoolEdits();
  const [chosen, setChosen] = useState<number | null>(null);
  if (!school.data) return null;
  const { agreed_on, days, given_up } = school.data;
  const warning = chosen ?? days;
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
      <Form
        className="d-flex flex-wrap align-items-end gap-3 mb-3"
        onSubmit={(event) => {
          event.preventDefault();
          agree.mutate(warning);
        }}
      >
        <Form.Group controlId="school-deletion-days">
          <Form.Label>{t("Days of warning")}</Form.Label>
          <Form.Control
            type="number"
            min={7}
            max={365}
            required
            value={warning}
            onChange={(event) => setChosen(Number(event.target.value))}
          />
        </Form.Group>
        <Button
          type="submit"
          disabled={agree.isPending || (agreed_on !== null && warning === days)}
        >
          {agreed_on ? t("Change days") : t("Turn on for all bands")}
        </Button>
        {agreed_on && (
          <Button
            variant="outline-secondary"
            disabled={agree.isPending}
            onClick={() => agree.mutate(null)}
          >
            {t("Leave it to each teacher")}
          </Button>
        )}
      </Form>
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
