/** What a close-up tells: what to mend first, the readings, what the eye adds. */
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { CloseUp, CloseUpFinding } from "../api/closeups";
import { figure, measured, quoted, unitOf, continued } from "../shared/format";
import { Verdict, verdictWords } from "../shared/glyphs";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

interface Props {
  page: CloseUp;
  answer: (fault: string, dismissed: boolean) => void;
}

export function Findings({ page, answer }: Props) {
  const standing = page.findings.filter((f) => !f.dismissed);
  const away = page.findings.filter((f) => f.dismissed);
  return (
    <>
      {standing.map((finding, n) => (
        <Finding
          key={finding.fault}
          finding={finding}
          page={page}
          first={n === 0}
          answer={answer}
        />
      ))}
      {page.told && (
        <article className="finding first" aria-label={t("Nothing to fix")}>
          <span className="kicker">
            <Verdict verdict="in band" />
          </span>
          <h2>
            {page.findings.some((f) => f.verdict === "watch")
              ? t("No fault")
              : t("Nothing to fix")}
          </h2>
          <p>{page.told}</p>
        </article>
      )}
      {away.map((finding) => (
        <article key={finding.fault} className="finding">
          <span className="text-decoration-line-through me-2">{finding.name}</span>
          <Button size="sm" variant="link" onClick={() => answer(finding.fault, false)}>
            {t("Undo")}
          </Button>
        </article>
      ))}
    </>
  );
}

interface FindingProps extends Props {
  finding: CloseUpFinding;
  first: boolean;
}

function Finding({ finding, page, first, answer }: FindingProps) {
  const readings = page.readings.filter((r) => finding.measures.includes(r.measure));
  return (
    <article
      className={`finding ${first ? "first" : ""}`}
      aria-label={t("Finding: {{name}}", { name: finding.name })}
    >
      <span className="kicker">
        {first && <strong className="focus-word">{t("Fix first")}</strong>}
        <Verdict verdict={finding.verdict} />
      </span>
      <h2>{finding.name}</h2>
      <p>{finding.reason || finding.shows}</p>
      {readings.map((r) => (
        <p key={r.measure} className="figures">
          {r.name}:{" "}
          <strong>{measured(r.value ?? 0, r.uncertainty ?? 0, r.decimals, r.unit)}</strong>,{" "}
          {bandWords(r)}
        </p>
      ))}
      {first && (
        <>
          <p>{finding.why}</p>
          <p>
            <strong>{t("Try:")} </strong>
            {finding.first_help}
          </p>
          <p>
            <strong>{t("To the student:")} </strong>
            {quoted(finding.child)}
          </p>
          <p className="faint">
            {t("Look-alikes: {{confused_with}}", {
              confused_with: continued(finding.confused_with),
            })}
          </p>
        </>
      )}
      <Button
        size="sm"
        variant="link"
        className="p-0"
        onClick={() => answer(finding.fault, true)}
      >
        {t("Not true")}
      </Button>
    </article>
  );
}

type Reading = CloseUp["readings"][number];

function bandWords({ low, high, decimals, unit }: Reading): string {
  const one = (value: number) => figure(value, decimals) + unitOf(unit);
  if (low !== null && high !== null)
    return t("should be {{low}} to {{high}}", { low: one(low), high: one(high) });
  if (low !== null) return t("should be at least {{low}}", { low: one(low) });
  return high !== null ? t("should be at most {{high}}", { high: one(high) }) : t("no limit");
}

export function Readings({ page }: { page: CloseUp }) {
  return (
    <details className="mt-2">
      <summary>{t("All readings")}</summary>
      <dl className="facts figures mt-2">
        {page.readings.map((r) => (
          <div key={r.measure} style={{ display: "contents" }}>
            <dt className="fw-normal">
              {r.value === null ? (
                <Verdict verdict="can't tell" />
              ) : (
                measured(r.value, r.uncertainty ?? 0, r.decimals, r.unit)
              )}
            </dt>
            <dd>
              {r.name}
              <span className="kicker d-block">
                {r.value === null ? r.reason : `${verdictWords(r.verdict)}; ${bandWords(r)}`}
              </span>
            </dd>
          </div>
        ))}
      </dl>
    </details>
  );
}

interface TicksProps {
  page: CloseUp;
  ticked: readonly string[];
  tick: (id: string) => void;
}

export function Ticks({ page, ticked, tick }: TicksProps) {
  return (
    <fieldset className="mt-3">
      <legend className="h5 mb-1">{t("What you see yourself")}</legend>
      {page.ticks.map((one) => (
        <Form.Check
          key={one.id}
          id={`tick-${one.id}`}
          label={one.words}
          checked={ticked.includes(one.id)}
          onChange={() => tick(one.id)}
        />
      ))}
    </fieldset>
  );
}

export function WhichReed({
  page,
  choose,
}: {
  page: CloseUp;
  choose: (reed: number | null) => void;
}) {
  if (page.slots.length === 0)
    return (
      <p className="faint mt-3">
        <Rich
          text="No reeds on record. <a>Add reeds</a> so that Sulvet can spot worn ones too."
          parts={{ a: <Link to={`/students/${page.student}`} /> }}
        />
      </p>
    );
  return (
    <Form.Group controlId="which-reed" className="d-flex gap-2 align-items-center mt-3">
      <Form.Label className="mb-0 text-nowrap">{t("This reed is in")}</Form.Label>
      <Form.Select
        size="sm"
        value={page.reed ?? ""}
        onChange={(event) => choose(event.target.value ? Number(event.target.value) : null)}
      >
        <option value="">{t("slot unknown")}</option>
        {page.slots.map((slot) => (
          <option key={slot.id} value={slot.id}>
            {t("slot {{slot}}{{more}}", {
              slot: slot.slot,
              more: slot.strength
                ? t(", strength {{strength}}", { strength: slot.strength })
                : "",
            })}
          </option>
        ))}
      </Form.Select>
    </Form.Group>
  );
}
