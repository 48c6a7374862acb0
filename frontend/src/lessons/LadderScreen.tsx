/** One student's first lessons: the ladder, the card of a step, set-up, and what was given. */
import { useState } from "react";
import { Form } from "react-bootstrap";
import { Link, useParams } from "react-router";
import { useLadder, useSetUp, type LadderPage } from "../api/lessons";
import { noon, shortDay } from "../shared/format";
import { useCalled } from "../shared/projector";
import { Refused, Trouble, Waiting } from "../shared/states";
import { DrillView } from "./DrillView";
import { GiveDrill } from "./GiveDrill";
import { Given } from "./Given";
import { MoveButtons } from "./MoveButtons";
import { StepView } from "./StepView";
import { t } from "../shared/words";

const WITHOUT = [
  ["", t("Nothing")],
  ["tongue", t("the tongue")],
  ["loudness", t("the loudness")],
  ["rhythm", t("the rhythm")],
] as const;

export default function LadderScreen() {
  const id = Number(useParams().id);
  const ladder = useLadder(id);
  const called = useCalled();
  const [open, setOpen] = useState<string | null>(null);
  if (ladder.isPending) return <Waiting what={t("the lesson")} />;
  if (ladder.isError)
    return <Trouble error={ladder.error} retry={() => void ladder.refetch()} />;
  const { row, steps, remedies, given } = ladder.data;
  const now = steps.find((step) => step.state === "now");
  const shown = steps.find((step) => step.id === open) ?? now ?? steps[steps.length - 1];
  return (
    <main className="page lessons">
      <title>{t("{{name}}, lesson – Sulvet", { name: called(row.name) })}</title>
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-3">
        <h1 className="mb-0">
          <Link to={`/students/${id}`} className="text-body text-decoration-none">
            {called(row.name)}
          </Link>
        </h1>
        <span className="faint">
          {row.instrument}.{" "}
          {now
            ? t("At “{{name}}”{{days}}.", { name: now.name, days: since(row.days) })
            : t("All steps passed.")}
        </span>
        <span className="flex-fill" />
        <Link to="/lessons">{t("All students")}</Link>
      </div>
      <div className="ladder-columns">
        <nav aria-label={t("Steps")}>
          <ol className="list-unstyled ladder">
            {steps.map((step) => (
              <li key={step.id}>
                <button
                  type="button"
                  className={step.state}
                  aria-current={step.id === shown?.id ? "step" : undefined}
                  onClick={() => setOpen(step.id)}
                >
                  <span aria-hidden className="sign">
                    {step.state === "passed" ? "✓" : step.state === "now" ? "●" : "○"}
                  </span>
                  <span>
                    {step.name}
                    {step.passed_on && (
                      <span className="kicker d-block">
                        {t("passed {{passed_on}}", {
                          passed_on: shortDay(noon(step.passed_on)),
                        })}
                      </span>
                    )}
                  </span>
                </button>
              </li>
            ))}
          </ol>
          <TooMuch page={ladder.data} />
        </nav>
        <div>
          {row.ready && (
            <p className="ready">
              {row.ready}.{" "}
              {row.take !== null && <Link to={`/takes/${row.take}`}>{t("Open the take")}</Link>}
            </p>
          )}
          <MoveButtons rows={[row]} moved={() => setOpen(null)} />
          {remedies.length > 0 && (
            <section className="remedies" aria-labelledby="remedies-title">
              <h2 id="remedies-title" className="h4">
                {t("No sound: {{heard}}", { heard: row.heard })}
              </h2>
              {remedies.map((one) => (
                <div key={one.look} className="mb-2">
                  <p className="mb-0">
                    {one.equipment && <strong>{t("Equipment first.")} </strong>}
                    {one.look} <strong>{one.help}</strong>
                  </p>
                  <DrillView drill={one.drill} />
                </div>
              ))}
            </section>
          )}
          {shown && <StepView step={shown} />}
          {shown?.id === "set-up" && <SetUpCard page={ladder.data} />}
        </div>
        <div>
          <Given given={given} />
          <GiveDrill students={[id]} />
        </div>
      </div>
    </main>
  );
}

function since(days: number | null): string {
  if (days === null || days === 0) return "";
  return days === 1 ? t(" since yesterday") : t(" for {{days}} days", { days });
}

/** One switch that leaves out the tongue, or the loudness, or the rhythm. */
function TooMuch({ page }: { page: LadderPage }) {
  const set = useSetUp(page.row.student);
  return (
    <Form.Group controlId="without" className="mt-3">
      <Form.Label className="mb-0">{t("Too much at once? Leave out")}</Form.Label>
      <Form.Select
        size="sm"
        value={page.without}
        disabled={set.isPending}
        onChange={(event) =>
          set.mutate({ without: event.target.value as (typeof WITHOUT)[number][0] })
        }
      >
        {WITHOUT.map(([id, words]) => (
          <option key={id} value={id}>
            {words}
          </option>
        ))}
      </Form.Select>
      <Refused error={set.error} />
    </Form.Group>
  );
}

function SetUpCard({ page }: { page: LadderPage }) {
  const set = useSetUp(page.row.student);
  // A tick shows at once; what was ticked last counts.
  const [ticked, setTicked] = useState(() =>
    page.set_up.filter((line) => line.ticked).map((line) => line.id),
  );
  const tick = (id: string, on: boolean) => {
    const all = on ? [...ticked, id] : ticked.filter((one) => one !== id);
    setTicked(all);
    set.mutate({ set_up: all });
  };
  return (
    <fieldset className="set-up">
      <legend className="h5">
        {t("Set-up card: {{done}} of {{all}}", {
          done: ticked.length,
          all: page.set_up.length,
        })}
      </legend>
      <Refused error={set.error} />
      {page.set_up.map((line) => (
        <Form.Check
          key={line.id}
          id={`line-${line.id}`}
          label={line.words}
          checked={ticked.includes(line.id)}
          onChange={(event) => tick(line.id, event.target.checked)}
        />
      ))}
    </fieldset>
  );
}
