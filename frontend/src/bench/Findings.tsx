/** The margin: findings, the focus first, and what the teacher says to them. */
import { phaseWords } from "../shared/phases";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { BenchPage, Finding } from "../api/client";
import type { Why } from "../api/edits";
import { figure, fixed, inside, measured, unitOf, quoted } from "../shared/format";
import { Verdict } from "../shared/glyphs";
import { BeginPlan } from "../plan/BeginPlan";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

export interface Answers {
  decide: (
    finding: Finding,
    answer: "confirmed" | "dismissed" | "",
    reason?: string,
    why?: Why,
  ) => void;
  makeFocus: (finding: Finding) => void;
  goTo: (frame: number) => void;
  observe: (seen: string[]) => void;
  /** The finding whose reason for dismissal is being asked for, and what is typed so far. */
  dismissing: { key: string; reason: string } | null;
  setDismissing: (dismissing: { key: string; reason: string } | null) => void;
}

export function findingKey(finding: Finding): string {
  return `${finding.fault} ${finding.phase}`;
}

/** The focus first, then the others in the order in which to fix them. */
export function inOrder(findings: Finding[]): Finding[] {
  const told = findings.filter((f) => f.verdict !== "can't tell");
  return [...told.filter((f) => f.focus), ...told.filter((f) => !f.focus)];
}

export function Findings({ page, answers }: { page: BenchPage; answers: Answers }) {
  const told = inOrder(page.findings);
  const untold = page.findings.filter((f) => f.verdict === "can't tell");
  const reasons = [...new Set(untold.map((f) => f.reason))];
  return (
    <>
      {page.set_up && <SetUp page={page} observe={answers.observe} />}
      {told.map((finding, n) => (
        <FindingCard
          key={findingKey(finding)}
          finding={finding}
          first={n === 0 && page.set_up === null}
          page={page}
          answers={answers}
        />
      ))}
      {reasons.map((reason) => (
        <article key={reason} className={`finding ${told.length === 0 ? "first" : ""}`}>
          <span className="kicker">
            <Verdict verdict="can't tell" />
          </span>
          <h2>{t("Can't tell")}</h2>
          <p>{reason}</p>
          <p className="faint">
            {t("Not assessed: {{names}}.", {
              names: untold
                .filter((f) => f.reason === reason)
                .map((f) => inside(f.name))
                .join(", "),
            })}
          </p>
        </article>
      ))}
      {page.lips && <p className="kicker">{page.lips}</p>}
      {page.findings.length === 0 && (
        <article className="finding first">
          <span className="kicker">
            <Verdict verdict={page.unchecked.length > 0 ? "not checked" : "in band"} />
          </span>
          <Headline page={page} />
          <p className="faint">
            {t("By the standard {{instrument}}, {{school}}.", {
              instrument: page.instrument,
              school: inside(page.school),
            })}
          </p>
        </article>
      )}
    </>
  );
}

/** What was checked and what not, each of these with what to do about it. */
function Headline({ page }: { page: BenchPage }) {
  const { headline, left } = page.take;
  return (
    <>
      <h2>
        {left ? headline.slice(0, -left.length) : headline || t("Nothing to correct")}
        {left && <strong>{left}</strong>}
      </h2>
      {page.unchecked.length > 0 && (
        <ul className="unchecked">
          {page.unchecked.map((one) => (
            <li key={one.area}>
              <strong>{one.area}:</strong> {one.why}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

function FindingCard({
  finding,
  first,
  page,
  answers,
}: {
  finding: Finding;
  first: boolean;
  page: BenchPage;
  answers: Answers;
}) {
  const { answer } = finding;
  const asking = answers.dismissing?.key === findingKey(finding) ? answers.dismissing : null;
  return (
    <article
      className={`finding ${first ? "first" : ""}`}
      aria-label={t("Finding: {{name}}", { name: finding.name })}
      data-answer={answer ?? "open"}
    >
      <span className="kicker">
        {finding.focus && <strong className="focus-word">{t("Focus")}</strong>}
        <Verdict verdict={finding.verdict} />{" "}
        {t("in {{phase}}", { phase: phaseWords(finding.phase) })}
        {finding.holds.length > 0 && ` ${finding.holds.join(", ")}`}
        {finding.start !== null &&
          finding.end !== null &&
          t(", {{start}} to {{end}} s", {
            start: fixed(finding.start, 1),
            end: fixed(finding.end, 1),
          })}
      </span>
      <h2 className={answer === "dismissed" ? "text-decoration-line-through" : undefined}>
        {finding.name}
      </h2>
      {(first || finding.evidence.length === 0) && <p>{finding.shows}</p>}
      <Evidence finding={finding} />
      {finding.reason && (
        <p>{finding.verdict === "added" ? quoted(finding.reason) : finding.reason}</p>
      )}
      {first && (
        <>
          <p>{finding.why}</p>
          <p>
            <strong>{t("Try:")} </strong>
            {finding.first_help}
          </p>
        </>
      )}
      {first && finding.focus && (
        <>
          <p>
            <strong>{t("To the student:")} </strong>
            {quoted(finding.child)}
          </p>
          <p className="faint">
            {page.focus.why}
            {page.focus.waits.length > 0 && <Waiting waits={page.focus.waits} />}
          </p>
        </>
      )}
      {answer === "confirmed" && (
        <p className="mb-2">
          <strong>{t("You confirmed this.")}</strong>
        </p>
      )}
      {finding.focus && answer !== null && answer !== "dismissed" && <BeginPlan page={page} />}
      {answer === "dismissed" && (
        <p className="mb-2">
          <strong>{t("You dismissed this:")}</strong> {finding.answer_reason}
        </p>
      )}
      {asking ? (
        <DismissForm finding={finding} reason={asking.reason} answers={answers} />
      ) : (
        <FindingButtons finding={finding} first={first} answers={answers} />
      )}
      <details className="mt-2">
        <summary>{first ? t("Drill and look-alikes") : t("Reason and what to try")}</summary>
        {!first && (
          <p className="mt-1">
            {finding.why} <strong>{t("Try:")} </strong>
            {finding.first_help}
          </p>
        )}
        <p className="mt-1">{finding.drill}</p>
        <p className="faint mb-0">
          {t("Often confused with: {{confused_with}} Embouchure style: {{school}}.", {
            confused_with: inside(finding.confused_with),
            school: inside(page.school),
          })}
        </p>
      </details>
    </article>
  );
}

/** The equipment before the mouth: what it sounds like, where to look, and that it was done. */
function SetUp({ page, observe }: { page: BenchPage; observe: Answers["observe"] }) {
  const { set_up: setUp, take } = page;
  if (!setUp) return null;
  return (
    <article className="finding first" aria-label={t("Check the equipment first")}>
      <span className="kicker">
        <Rich
          text="<strong>Focus</strong>before the mouth"
          parts={{ strong: <strong className="focus-word" /> }}
        />
      </span>
      <h2>{t("The equipment first")}</h2>
      <p>{setUp.why}</p>
      <div className="d-flex flex-wrap gap-2">
        <Button
          onClick={() =>
            observe([...page.observations.filter((o) => o.seen).map((o) => o.id), setUp.done])
          }
        >
          {t("Checked, fine")}
        </Button>
        <Link className="btn btn-outline-secondary" to={`/lessons/${take.student}`}>
          {t("Set-up card")}
        </Link>
        {setUp.done === "reed-fine" && (
          <Link className="btn btn-outline-secondary" to={`/students/${take.student}`}>
            {t("Open the reed box")}
          </Link>
        )}
      </div>
      <p className="kicker mt-2 mb-0">{t("This ticks: {{label}}.", { label: setUp.label })}</p>
    </article>
  );
}

/** What is held back, and why. */
function Waiting({ waits }: { waits: BenchPage["focus"]["waits"] }) {
  const names = waits.map((w) => `${inside(w.name)} (${w.why})`);
  return <> {t("For later: {{names}}.", { names: names.join(", ") })}</>;
}

function Evidence({ finding }: { finding: Finding }) {
  return (
    <dl className="figures">
      {finding.evidence.map((e) => (
        <div key={e.measure} style={{ display: "contents" }}>
          <dt className="fw-normal">{e.name}</dt>
          <dd>
            <strong>{measured(e.value, e.uncertainty, e.decimals, e.unit)}</strong>
            <span className="faint">
              {" "}
              {e.value > e.edge ? t("limit") : t("at least")} {figure(e.edge, e.decimals)}
              {unitOf(e.unit)}
            </span>
          </dd>
        </div>
      ))}
    </dl>
  );
}

function FindingButtons({
  finding,
  first,
  answers,
}: {
  finding: Finding;
  first: boolean;
  answers: Answers;
}) {
  const { answer, worst_frame: worst } = finding;
  return (
    <div className="d-flex flex-wrap gap-2">
      {answer === null && (
        <>
          <Button
            size={first ? undefined : "sm"}
            variant={first ? "primary" : "outline-primary"}
            onClick={() => answers.decide(finding, "confirmed")}
          >
            {t("Confirm")}
          </Button>
          <Button
            size={first ? undefined : "sm"}
            variant="outline-secondary"
            onClick={() => answers.setDismissing({ key: findingKey(finding), reason: "" })}
          >
            {t("Dismiss")}
          </Button>
        </>
      )}
      {worst !== null && (
        <Button
          size={first ? undefined : "sm"}
          variant="outline-secondary"
          onClick={() => answers.goTo(worst)}
        >
          {t("Worst frame")}
        </Button>
      )}
      {!finding.focus && answer !== "dismissed" && (
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => answers.makeFocus(finding)}
        >
          {t("Make this the focus")}
        </Button>
      )}
      {answer !== null && (
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => answers.decide(finding, "")}
        >
          {answer === "added" ? t("Remove") : t("Undo")}
        </Button>
      )}
    </div>
  );
}

const REASONS: [Why, string, string][] = [
  ["not-so", t("Not so"), t("It is right for this student, or not there")],
  ["camera", t("The camera"), t("Marks, light, angle or phases were wrong")],
  ["later", t("Later"), t("It is so, and something else comes first")],
];

function DismissForm({
  finding,
  reason,
  answers,
}: {
  finding: Finding;
  reason: string;
  answers: Answers;
}) {
  const { setDismissing } = answers;
  const dismiss = (why: Why) => {
    answers.decide(finding, "dismissed", reason, why);
    setDismissing(null);
  };
  return (
    <Form
      onSubmit={(event) => {
        event.preventDefault();
        dismiss("not-so");
      }}
      onKeyDown={(event) => {
        if (event.key === "Escape") setDismissing(null);
      }}
    >
      <Form.Group controlId="dismiss-reason" className="mb-2">
        <Form.Label>{t("Why do you dismiss this? A word, if you like")}</Form.Label>
        <Form.Control
          autoFocus
          maxLength={300}
          value={reason}
          onChange={(event) =>
            setDismissing({ key: findingKey(finding), reason: event.target.value })
          }
        />
      </Form.Group>
      <div className="d-flex flex-wrap gap-2">
        {REASONS.map(([why, words, meant]) => (
          <Button
            key={why}
            type={why === "not-so" ? "submit" : "button"}
            variant={why === "not-so" ? "primary" : "outline-primary"}
            title={meant}
            onClick={why === "not-so" ? undefined : () => dismiss(why)}
          >
            {words}
          </Button>
        ))}
        <Button variant="outline-secondary" onClick={() => setDismissing(null)}>
          {t("Cancel")}
        </Button>
      </div>
    </Form>
  );
}
