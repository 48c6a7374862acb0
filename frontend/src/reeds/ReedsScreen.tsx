/** All reed boxes of the band, and the list for the shop. */
import { useState } from "react";
import { Button, Form, Table } from "react-bootstrap";
import { Link } from "react-router";
import { AddCloseUp } from "../closeups/AddCloseUp";
import { useReedBoxes, useSetHabits, type Box, type Habits } from "../api/reeds";
import { useCalled } from "../shared/projector";
import { Refused, Trouble, Waiting } from "../shared/states";
import { ReedShape } from "./ReedShape";
import { t } from "../shared/words";

export default function ReedsScreen() {
  const boxes = useReedBoxes();
  if (boxes.isPending) return <Waiting what={t("the reed boxes")} />;
  if (boxes.isError) return <Trouble error={boxes.error} retry={() => void boxes.refetch()} />;
  const { buy, habits } = boxes.data;
  const total = buy.reduce((sum, row) => sum + row.count, 0);
  return (
    <main className="page">
      <title>{t("Reeds – Sulvet")}</title>
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-2">
        <h1 className="mb-0">{t("Reeds")}</h1>
        <span className="faint">{t("a worn reed sounds like a bad embouchure")}</span>
      </div>
      {boxes.data.boxes.length === 0 ? (
        <p className="py-4 fs-5 serif">{t("Nobody in the band plays a reed instrument.")}</p>
      ) : (
        <div className="reeds-columns">
          <section aria-label={t("Boxes")}>
            <Table responsive>
              <thead>
                <tr>
                  <th scope="col">{t("Student")}</th>
                  <th scope="col">{t("Slots")}</th>
                  <th scope="col">{t("To do")}</th>
                  <th scope="col">{t("Close-up")}</th>
                </tr>
              </thead>
              <tbody>
                {boxes.data.boxes.map((box) => (
                  <BoxRow key={box.student} box={box} />
                ))}
              </tbody>
            </Table>
          </section>
          <section aria-labelledby="buy-title">
            <div className="d-flex flex-wrap align-items-baseline gap-3">
              <h2 id="buy-title" className="h3">
                {t("To buy")}
              </h2>
              {total > 0 && <a href="/api/reeds.csv">{t("as a table")}</a>}
            </div>
            {total === 0 ? (
              <p className="faint">
                {t("Nothing: every box on record has {{least}} in rotation.", {
                  least: habits.least,
                })}
              </p>
            ) : (
              <dl className="facts figures fs-5">
                {buy.map((row) => (
                  <div
                    key={`${row.instrument} ${row.strength}`}
                    style={{ display: "contents" }}
                  >
                    <dt>{row.count}</dt>
                    <dd>
                      {row.instrument}
                      {row.strength
                        ? t(", strength {{strength}}", { strength: row.strength })
                        : t(", strength not known")}
                    </dd>
                  </div>
                ))}
              </dl>
            )}
            <HabitsForm key={JSON.stringify(habits)} habits={habits} />
            <p className="caution mt-4">
              {t(
                "Never share reeds or mouthpieces without cleaning them. Choking hazard: keep away from small children.",
              )}
            </p>
          </section>
        </div>
      )}
    </main>
  );
}

function BoxRow({ box }: { box: Box }) {
  const called = useCalled();
  const bad = box.reeds.filter((reed) => reed.turn === null);
  const soon = box.reeds.filter((reed) => reed.status === "soon");
  const slots = (reeds: Box["reeds"]) => reeds.map((reed) => reed.slot).join(", ");
  return (
    <tr>
      <th scope="row">
        <Link to={`/students/${box.student}`}>{called(box.name)}</Link>
        <span className="kicker d-block fw-normal">{box.instrument}</span>
      </th>
      <td>
        <div className="d-flex gap-1 align-items-end">
          {box.reeds.map((reed) => (
            <ReedShape key={reed.id} share={reed.share} status={reed.status} />
          ))}
          {box.reeds.length === 0 && <span className="faint">{t("no reed on record")}</span>}
        </div>
      </td>
      <td>
        {bad.length > 0 && (
          <div className="lost">{t("Retire slot {{bad}}.", { bad: slots(bad) })}</div>
        )}
        {soon.length > 0 && (
          <div>{t("Replace slot {{soon}} soon.", { soon: slots(soon) })}</div>
        )}
        {box.buy > 0 && <div>{t("Buy {{buy}}.", { buy: box.buy })}</div>}
        {bad.length + soon.length + box.buy === 0 && (
          <span className="faint">
            {box.reeds.length > 0 ? t("nothing") : t("Add reeds on the student's page")}
          </span>
        )}
      </td>
      <td>
        <AddCloseUp student={box.student} />
      </td>
    </tr>
  );
}

const FIELDS: [keyof Habits, string, number][] = [
  ["life_minutes", t("hours a reed lasts"), 60],
  ["least", t("reeds in rotation, minimum"), 1],
  ["a_day", t("minutes counted per day ticked"), 1],
];

function HabitsForm({ habits }: { habits: Habits }) {
  const set = useSetHabits();
  const [draft, setDraft] = useState(habits);
  return (
    <details className="mt-3">
      <summary>{t("Settings")}</summary>
      <Form
        className="mt-2"
        onSubmit={(event) => {
          event.preventDefault();
          set.mutate(draft);
        }}
      >
        <Refused error={set.error} />
        {FIELDS.map(([name, words, unit]) => (
          <Form.Group
            key={name}
            controlId={`habit-${name}`}
            className="d-flex gap-2 align-items-center mb-2"
          >
            <Form.Control
              type="number"
              size="sm"
              className="figures"
              style={{ width: "5.5rem" }}
              min={1}
              required
              value={Math.round(draft[name] / unit)}
              onChange={(event) =>
                setDraft({ ...draft, [name]: Math.round(Number(event.target.value)) * unit })
              }
            />
            <Form.Label className="mb-0">{words}</Form.Label>
          </Form.Group>
        ))}
        <p className="kicker">
          {t(
            "About a week at two hours a day, or a month at half an hour: fourteen hours (common practice).",
          )}
        </p>
        <Button type="submit" size="sm" disabled={set.isPending}>
          {t("Save")}
        </Button>
      </Form>
    </details>
  );
}
