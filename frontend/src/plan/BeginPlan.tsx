/** From the focus to two weeks of drills. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { BenchPage } from "../api/client";
import { usePlanEdits, usePlans, useSchoolDays, type Stage } from "../api/plans";
import { day, today } from "../shared/format";
import { Refused } from "../shared/states";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

export const STAGES: { stage: Stage; words: string }[] = [
  { stage: "lips", words: t("lips alone") },
  { stage: "mouthpiece", words: t("mouthpiece") },
  { stage: "instrument", words: t("instrument") },
];

export function BeginPlan({ page }: { page: BenchPage }) {
  const { take } = page;
  const plans = usePlans(take.student);
  const { start } = usePlanEdits(take.student);
  const [open, setOpen] = useState(false);
  // What the finding names as its drill is what the plan begins with.
  const named = page.findings.find((finding) => finding.focus)?.stage;
  const [stage, setStage] = useState<Stage>(named ?? "instrument");
  const usual = useSchoolDays().data?.minutes;
  const [own, setMinutes] = useState<number | null>(null);
  const [from, setFrom] = useState(today());
  if (!plans.data || usual === undefined) return null;
  const minutes = own ?? usual;
  const { running } = plans.data;
  if (running?.fault === page.focus.fault)
    return (
      <p>
        <Rich
          text="<a>The two-week plan</a> running since {{started_on}}."
          values={{ started_on: day(running.started_on) }}
          parts={{ a: <Link to={`/students/${take.student}`} /> }}
        />
      </p>
    );
  if (!open)
    return (
      <Button variant="outline-primary" className="mb-2" onClick={() => setOpen(true)}>
        {t("Start a two-week plan")}
      </Button>
    );
  return (
    <Form
      className="mb-2"
      aria-label={t("Start a two-week plan")}
      onSubmit={(event) => {
        event.preventDefault();
        start.mutate({ take: take.id, stage, minutes, started_on: from });
      }}
    >
      {running && (
        <p className="faint">
          {t("It replaces the plan for “{{name}}”.", { name: running.name })}
        </p>
      )}
      <fieldset className="mb-2">
        <legend className="fs-6">{t("Start with")}</legend>
        {STAGES.map((s) => (
          <Form.Check
            key={s.stage}
            inline
            type="radio"
            name="stage"
            id={`stage-${s.stage}`}
            label={s.words}
            checked={stage === s.stage}
            onChange={() => setStage(s.stage)}
          />
        ))}
      </fieldset>
      <div className="d-flex gap-3 mb-2">
        <Form.Group controlId="plan-minutes" style={{ width: "8rem" }}>
          <Form.Label className="mb-0">{t("Minutes per day")}</Form.Label>
          <Form.Control
            type="number"
            min={2}
            max={30}
            required
            value={minutes}
            onChange={(event) => setMinutes(Number(event.target.value))}
          />
        </Form.Group>
        <Form.Group controlId="plan-from">
          <Form.Label className="mb-0">{t("Start from")}</Form.Label>
          <Form.Control
            type="date"
            min={take.filmed_on}
            max={today()}
            required
            value={from}
            onChange={(event) => setFrom(event.target.value)}
          />
        </Form.Group>
      </div>
      <Refused error={start.error} />
      <Button type="submit" disabled={start.isPending}>
        {t("Start plan")}
      </Button>
    </Form>
  );
}
