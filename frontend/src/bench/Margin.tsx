/** The margin: findings, the focus first, and what the teacher says to them. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { BenchPage, Finding } from "../api/client";
import { MeasuredDrawing } from "../shared/MeasuredDrawing";
import { figure, measured, unitOf } from "../shared/format";
import { Verdict } from "../shared/glyphs";
import { thingMarked } from "./Placing";

export interface Answers {
  decide: (finding: Finding, answer: "confirmed" | "dismissed" | "", reason?: string) => void;
  goTo: (frame: number) => void;
  /** The finding whose reason for dismissal is being asked for. */
  dismissing: string | null;
  setDismissing: (key: string | null) => void;
  busy: boolean;
}

export function findingKey(finding: Finding): string {
  return `${finding.fault} ${finding.phase}`;
}

export function Findings({ page, answers }: { page: BenchPage; answers: Answers }) {
  const told = page.findings.filter((f) => f.verdict !== "can't tell");
  const untold = page.findings.filter((f) => f.verdict === "can't tell");
  const reasons = [...new Set(untold.map((f) => f.reason))];
  return (
    <>
      {page.drawing && (
        <figure className="mb-1">
          <MeasuredDrawing drawing={page.drawing} readings={page.readings} phase="hold" />
          <figcaption className="kicker">
            In hold, over the rest face (dashed), with the zones of the standard.
          </figcaption>
        </figure>
      )}
      {told.map((finding, n) => (
        <FindingCard
          key={findingKey(finding)}
          finding={finding}
          first={n === 0}
          school={page.school}
          answers={answers}
        />
      ))}
      {reasons.map((reason) => (
        <article key={reason} className="finding first">
          <span className="kicker">
            <Verdict verdict="can't tell" />
          </span>
          <h2>Can&apos;t tell</h2>
          <p>{reason}</p>
          <p className="faint">
            Not judged:{" "}
            {untold
              .filter((f) => f.reason === reason)
              .map((f) => f.name.toLowerCase())
              .join(", ")}
            .
          </p>
        </article>
      ))}
      {page.findings.length === 0 && (
        <article className="finding first">
          <span className="kicker">
            <Verdict verdict="in band" />
          </span>
          <h2>Nothing found</h2>
          <p>
            {nothingFoundIn(page)} no fault by the standard {page.instrument},{" "}
            {page.school.toLowerCase()}.
          </p>
        </article>
      )}
      <AllReadings page={page} />
    </>
  );
}

function nothingFoundIn(page: BenchPage): string {
  if (page.take.view === "side") return "The chin gives";
  return `Corners, width and stillness${thingMarked(page) ? " and placement" : ""} give`;
}

function FindingCard({
  finding,
  first,
  school,
  answers,
}: {
  finding: Finding;
  first: boolean;
  school: string;
  answers: Answers;
}) {
  const { answer } = finding;
  const asking = answers.dismissing === findingKey(finding);
  return (
    <article
      className={`finding ${first ? "first" : ""}`}
      aria-label={`Finding: ${finding.name}`}
      data-answer={answer ?? "open"}
    >
      <span className="kicker">
        <Verdict verdict={finding.verdict} /> in {finding.phase}
        {finding.start !== null &&
          finding.end !== null &&
          `, ${finding.start.toFixed(1)} to ${finding.end.toFixed(1)} s`}
      </span>
      <h2 style={answer === "dismissed" ? { textDecoration: "line-through" } : undefined}>
        {finding.name}
      </h2>
      <p>{finding.shows}</p>
      <dl className="figures">
        {finding.evidence.map((e) => (
          <div key={e.measure} style={{ display: "contents" }}>
            <dt className="fw-normal">{e.name}</dt>
            <dd>
              <strong>{measured(e.value, e.uncertainty, e.decimals, e.unit)}</strong>
              <span className="faint">
                {" "}
                band {e.value > e.edge ? "to" : "from"} {figure(e.edge, e.decimals)}
                {unitOf(e.unit)}
              </span>
            </dd>
          </div>
        ))}
      </dl>
      {first && (
        <>
          <p>{finding.why}</p>
          <p>
            <strong>Try: </strong>
            {finding.first_help}
          </p>
          <details className="mb-2">
            <summary>Drill, and what it is confused with</summary>
            <p className="mt-1">{finding.drill}</p>
            <p className="faint">
              Easily confused with: {finding.confused_with.toLowerCase()} School:{" "}
              {school.toLowerCase()}.
            </p>
          </details>
        </>
      )}
      {answer === "confirmed" && (
        <p className="mb-2">
          <strong>You confirmed this.</strong>
        </p>
      )}
      {answer === "dismissed" && (
        <p className="mb-2">
          <strong>You dismissed this:</strong> {finding.answer_reason}
        </p>
      )}
      {asking ? (
        <DismissForm finding={finding} answers={answers} />
      ) : (
        <div className="d-flex flex-wrap gap-2">
          {answer === null ? (
            <>
              <Button
                disabled={answers.busy}
                onClick={() => answers.decide(finding, "confirmed")}
              >
                Confirm
              </Button>
              <Button
                variant="outline-secondary"
                disabled={answers.busy}
                onClick={() => answers.setDismissing(findingKey(finding))}
              >
                Dismiss
              </Button>
            </>
          ) : (
            <Button
              variant="outline-secondary"
              disabled={answers.busy}
              onClick={() => answers.decide(finding, "")}
            >
              Take that back
            </Button>
          )}
          {finding.worst_frame !== null && (
            <Button
              variant="outline-secondary"
              onClick={() => answers.goTo(finding.worst_frame as number)}
            >
              Worst frame
            </Button>
          )}
        </div>
      )}
    </article>
  );
}

const REASONS = ["The marks are off", "The phase is set wrong", "It is right for this student"];

function DismissForm({ finding, answers }: { finding: Finding; answers: Answers }) {
  const [reason, setReason] = useState("");
  return (
    <Form
      onSubmit={(event) => {
        event.preventDefault();
        answers.decide(finding, "dismissed", reason);
      }}
    >
      <Form.Group controlId="dismiss-reason" className="mb-2">
        <Form.Label>Why is it dismissed?</Form.Label>
        <Form.Control
          autoFocus
          required
          maxLength={300}
          list="dismiss-reasons"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <datalist id="dismiss-reasons">
          {REASONS.map((r) => (
            <option key={r} value={r} />
          ))}
        </datalist>
      </Form.Group>
      <div className="d-flex gap-2">
        <Button type="submit" disabled={answers.busy}>
          Dismiss
        </Button>
        <Button variant="outline-secondary" onClick={() => answers.setDismissing(null)}>
          Leave it
        </Button>
      </div>
    </Form>
  );
}

function AllReadings({ page }: { page: BenchPage }) {
  if (page.readings.length === 0) return null;
  return (
    <details className="finding">
      <summary>All readings</summary>
      <table className="table table-sm figures mt-2 mb-0">
        <thead>
          <tr>
            <th scope="col">Measure</th>
            <th scope="col">Value</th>
            <th scope="col">Verdict</th>
          </tr>
        </thead>
        <tbody>
          {page.readings.map((r) => (
            <tr key={`${r.measure} ${r.phase}`} data-reading={r.measure}>
              <th scope="row" className="fw-normal">
                {r.name}
                <span className="faint">, {r.phase}</span>
              </th>
              <td className="text-nowrap">
                {r.value === null || r.uncertainty === null
                  ? "none"
                  : measured(r.value, r.uncertainty, r.decimals, r.unit)}
              </td>
              <td title={r.reason}>
                <Verdict verdict={r.verdict} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="kicker mt-2 mb-0">
        Standard {page.standard}. Every value is the change from this student&apos;s own rest
        face, ± its 95 % uncertainty.
      </p>
    </details>
  );
}
