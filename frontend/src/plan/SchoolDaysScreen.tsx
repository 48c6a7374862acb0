/** When nobody practises, and how long they do on other days. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useSchoolDays, useSetSchoolDays, type SchoolDays } from "../api/plans";
import { today } from "../shared/format";
import { Refused, Trouble, Waiting } from "../shared/states";
import { t } from "../shared/words";

const WEEK = [
  t("Monday"),
  t("Tuesday"),
  t("Wednesday"),
  t("Thursday"),
  t("Friday"),
  t("Saturday"),
  t("Sunday"),
];

export function SchoolDaysScreen() {
  const days = useSchoolDays();
  if (days.isPending) return <Waiting what={t("the school days")} />;
  if (days.isError) return <Trouble error={days.error} retry={() => void days.refetch()} />;
  return <SchoolDaysForm known={days.data} />;
}

function SchoolDaysForm({ known }: { known: SchoolDays }) {
  const save = useSetSchoolDays();
  const [off, setOff] = useState(known.weekdays_off);
  const [minutes, setMinutes] = useState(known.minutes);
  const [free, setFree] = useState(known.free);
  const change = (n: number, part: Partial<SchoolDays["free"][number]>) =>
    setFree(free.map((f, k) => (k === n ? { ...f, ...part } : f)));
  return (
    <main className="page">
      <title>{t("School days – Sulvet")}</title>
      <h1>{t("School days")}</h1>
      <p className="faint">
        {t("A recheck on a day off moves to the next school day. Running plans are updated.")}
      </p>
      <Form
        style={{ maxWidth: "46rem" }}
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate({ weekdays_off: off, minutes, free });
        }}
      >
        <fieldset className="mb-3">
          <legend className="h5">{t("Off every week")}</legend>
          {WEEK.map((name, n) => (
            <Form.Check
              key={name}
              inline
              id={`off-${n}`}
              label={name}
              checked={off.includes(n)}
              onChange={(event) =>
                setOff(event.target.checked ? [...off, n] : off.filter((d) => d !== n))
              }
            />
          ))}
        </fieldset>
        <fieldset className="mb-3">
          <legend className="h5">{t("Holidays and days off")}</legend>
          {free.length === 0 && <p className="faint">{t("None.")}</p>}
          {free.map((f, n) => (
            <div key={n} className="d-flex flex-wrap gap-2 mb-2 align-items-end">
              <Form.Group controlId={`free-first-${n}`}>
                <Form.Label className="mb-0">{t("From")}</Form.Label>
                <Form.Control
                  type="date"
                  required
                  value={f.first}
                  onChange={(event) => change(n, { first: event.target.value })}
                />
              </Form.Group>
              <Form.Group controlId={`free-last-${n}`}>
                <Form.Label className="mb-0">{t("Until")}</Form.Label>
                <Form.Control
                  type="date"
                  required
                  min={f.first}
                  value={f.last}
                  onChange={(event) => change(n, { last: event.target.value })}
                />
              </Form.Group>
              <Form.Group controlId={`free-words-${n}`}>
                <Form.Label className="mb-0">{t("Name")}</Form.Label>
                <Form.Control
                  maxLength={60}
                  value={f.words ?? ""}
                  onChange={(event) => change(n, { words: event.target.value })}
                />
              </Form.Group>
              <Button
                variant="outline-secondary"
                onClick={() => setFree(free.filter((_, k) => k !== n))}
              >
                {t("Remove")}
              </Button>
            </div>
          ))}
          <Button
            variant="outline-primary"
            size="sm"
            onClick={() => setFree([...free, { first: today(), last: today(), words: "" }])}
          >
            {t("Add days off")}
          </Button>
        </fieldset>
        <Form.Group controlId="day-minutes" className="mb-3" style={{ width: "14rem" }}>
          <Form.Label className="h5">{t("Drill minutes per day")}</Form.Label>
          <Form.Control
            type="number"
            min={2}
            max={30}
            required
            value={minutes}
            onChange={(event) => setMinutes(Number(event.target.value))}
          />
        </Form.Group>
        <Refused error={save.error} />
        <Button type="submit" size="lg" disabled={save.isPending}>
          {t("Save")}
        </Button>
        {save.isSuccess && (
          <span role="status" className="ms-3">
            {t("Saved.")}
          </span>
        )}
      </Form>
    </main>
  );
}
