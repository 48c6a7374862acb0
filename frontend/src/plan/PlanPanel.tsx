/** Two weeks on one focus: what, how, the strip to tick, and the rechecks. */
import { Button } from "react-bootstrap";
import { DrillView } from "../lessons/DrillView";
import { Link } from "react-router";
import type { Plan } from "../api/client";
import { usePlanEdits, usePlans } from "../api/plans";
import { day, quoted } from "../shared/format";
import { Refused } from "../shared/states";
import { tell } from "../shared/toasts";
import { STAGES } from "./BeginPlan";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

export function PlanPanel({ student }: { student: number }) {
  const plans = usePlans(student);
  const edits = usePlanEdits(student);
  if (!plans.data) return null;
  const { running, before } = plans.data;
  const trouble =
    edits.practise.error ?? edits.accept.error ?? edits.stop.error ?? edits.resume.error;
  return (
    <section aria-labelledby="plan-title" className="plan mb-4">
      <Refused error={trouble} />
      {running ? (
        <RunningPlan plan={running} edits={edits} />
      ) : (
        <>
          <h2 id="plan-title" className="h4">
            {t("Two weeks")}
          </h2>
          <p className="faint">
            {t("No plan running. Confirm the focus of a take and start one there.")}
          </p>
        </>
      )}
      {before.length > 0 && (
        <ul className="list-unstyled mb-0">
          {before.map((plan) => (
            <li key={plan.id}>
              <strong>{plan.name}</strong>, {day(plan.started_on)}:{" "}
              {plan.state === "passed" ? t("passed") : (lastAnswer(plan) ?? t("stopped"))}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function lastAnswer(plan: Plan): string | undefined {
  return plan.rechecks
    .map((r) => r.answer)
    .filter(Boolean)
    .pop();
}

interface Running {
  plan: Plan;
  edits: ReturnType<typeof usePlanEdits>;
}

function RunningPlan({ plan, edits }: Running) {
  const stage = STAGES.find((s) => s.stage === plan.stage)?.words ?? plan.stage;
  return (
    <>
      <div className="d-flex align-items-baseline gap-3">
        <h2 id="plan-title" className="h3 mb-0">
          {plan.name}
        </h2>
        <span className="faint">{t("two weeks, with the {{stage}}", { stage })}</span>
      </div>
      <p className="serif fs-5 mb-2">{quoted(plan.child)}</p>
      <Strip plan={plan} edits={edits} />
      <Rechecks plan={plan} edits={edits} />
      {plan.drills.map((drill) => (
        <DrillView key={drill.id} drill={drill} />
      ))}
      <p className="mt-2">
        <a href={`/api/plans/${plan.id}.ics`}>{t("Rechecks for your calendar")}</a> ·{" "}
        <Link to="/school-days">{t("Days off")}</Link> ·{" "}
        <Button
          variant="link"
          className="p-0 align-baseline faint"
          onClick={() =>
            edits.stop.mutate(plan.id, {
              onSuccess: () =>
                tell(t("Plan stopped: {{name}}.", { name: plan.name }), () =>
                  edits.resume.mutate(plan.id),
                ),
            })
          }
        >
          {t("Stop plan")}
        </Button>
      </p>
    </>
  );
}

/** Fourteen boxes; a day that has come can be ticked. */
function Strip({ plan, edits }: Running) {
  const due = new Map(plan.rechecks.map((r) => [r.due_on, r.day]));
  return (
    <>
      <ol className="strip" aria-label={t("Fourteen days")}>
        {plan.days.map((d) => {
          const recheck = due.get(d.date);
          const words = [
            `Day ${d.number}`,
            day(d.date),
            d.off ? t("day off") : d.done ? t("practised") : t("not practised"),
            d.student ? t("ticked by the student") : "",
            recheck ? t("recheck of day {{recheck}}", { recheck }) : "",
          ];
          return (
            <li key={d.number} className={d.today ? "today" : undefined}>
              <button
                type="button"
                aria-pressed={d.done}
                aria-label={words.filter(Boolean).join(", ")}
                className={d.off ? "off" : undefined}
                disabled={d.ahead}
                onClick={() =>
                  edits.practise.mutate({ plan: plan.id, date: d.date, done: !d.done })
                }
              >
                <span className="number">{d.number}</span>
                <span aria-hidden className="tick">
                  {d.done ? "✓" : d.off && !d.student ? "–" : ""}
                  {d.student && <span className="by-student">s</span>}
                </span>
              </button>
              {recheck !== undefined && <span className="kicker">{t("recheck")}</span>}
            </li>
          );
        })}
      </ol>
      {plan.days.some((d) => d.student) && (
        <p className="kicker">{t("✓ your tick · s ticked by the student")}</p>
      )}
    </>
  );
}

function Rechecks({ plan, edits }: Running) {
  return (
    <ul className="list-unstyled mb-2">
      {plan.rechecks.map((r) => (
        <li
          key={r.id}
          className="border-top py-2"
          aria-label={t("Recheck of day {{day}}", { day: r.day })}
        >
          <strong>{t("Day {{day}}", { day: r.day })}</strong>, {day(r.due_on)}:{" "}
          {r.answer ? (
            <span>{r.answer}</span>
          ) : r.take === null ? (
            <span className={r.due ? "lost" : "faint"}>
              {r.due ? t("due: film from the same side") : t("not yet")}
            </span>
          ) : (
            <>
              <Link to={`/takes/${r.take}`}>
                {r.read ? t("its take") : t("review the take")}
              </Link>
              {r.says && (
                <>
                  {" "}
                  <Rich
                    text="says <strong>{{answer}}</strong>. {{why}} {{heard}}"
                    values={{ answer: r.says.answer, why: r.says.why, heard: r.heard }}
                    parts={{ strong: <strong /> }}
                  />{" "}
                  {r.says.answer !== "film again" && (
                    <Button
                      size="sm"
                      className="ms-2"
                      disabled={edits.accept.isPending}
                      onClick={() => edits.accept.mutate(r.id)}
                    >
                      {r.says.answer === "passed"
                        ? t("Passed")
                        : t("Accept: {{answer}}", { answer: r.says.answer })}
                    </Button>
                  )}
                </>
              )}
            </>
          )}
        </li>
      ))}
    </ul>
  );
}
