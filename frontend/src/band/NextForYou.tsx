/** What comes next, by kind with counts; each take says whether a fault was found. */
import { Alert, Button } from "react-bootstrap";
import { Link } from "react-router";
import { useMarkReviewed } from "../api/band";
import type { BandPage, TakeSummary } from "../api/client";
import { TakeDrawing } from "../shared/drawing/TakeDrawing";
import { counted } from "../shared/format";
import { Glyph } from "../shared/glyphs";
import { useCalled } from "../shared/projector";
import { Refused } from "../shared/states";
import { resultWords } from "../student/result";
import { t } from "../shared/words";

type Line = BandPage["next"][number];

interface Kind {
  title: string;
  states: Line["state"][];
  /** So many of one kind are one line until they are opened. */
  folds: number;
}

const KINDS: Kind[] = [
  { title: t("Consent and storage"), states: ["keep-over", "consent-ended"], folds: 8 },
  { title: t("Film the recheck"), states: ["recheck-due"], folds: 12 },
  { title: t("Takes to review"), states: ["new-take", "needs-marks"], folds: 24 },
  { title: t("Can't be analysed"), states: ["failed"], folds: 6 },
  { title: t("Film the first take"), states: ["nothing-filmed"], folds: 3 },
  { title: t("Ask for consent to film"), states: ["no-consent"], folds: 3 },
];

type Props = Pick<BandPage, "next" | "sections" | "warning">;

export function NextForYou({ next, sections, warning }: Props) {
  const review = useMarkReviewed();
  const takes = new Map(
    sections.flatMap((s) => s.chairs.map((chair) => [chair.id, chair.take] as const)),
  );
  const kinds = KINDS.map((kind) => ({
    ...kind,
    lines: next.filter((line) => kind.states.includes(line.state)),
  })).filter((kind) => kind.lines.length > 0);
  return (
    <section className="next-for-you" aria-labelledby="next-title">
      <h2 id="next-title" className="h3">
        {t("Next for you")}
      </h2>
      {warning && (
        <Alert variant="danger" className="py-2 px-3">
          {warning}
        </Alert>
      )}
      <Refused error={review.error} />
      {next.length === 0 && (
        <p className="faint">{t("All done. Film a take, or open a student.")}</p>
      )}
      {kinds.map((kind) => {
        const faults = kind.lines.filter(
          (line) => takes.get(line.student)?.result === "fault",
        ).length;
        const clear = kind.lines.flatMap((line) => (line.clear ? (line.take ?? []) : []));
        const list = (
          <>
            {clear.length > 1 && (
              <Button
                size="sm"
                variant="outline-secondary"
                className="mb-1"
                disabled={review.isPending}
                onClick={() => review.mutate(clear)}
              >
                {t("Mark {{take}} without a finding as reviewed", {
                  take: counted(clear.length, "take"),
                })}
              </Button>
            )}
            <ol className="next-list">
              {kind.lines.map((line) => (
                <NextLine
                  key={line.student}
                  line={line}
                  take={takes.get(line.student) ?? null}
                />
              ))}
            </ol>
          </>
        );
        const title = (
          <>
            {kind.title}: <span className="figures">{kind.lines.length}</span>
            {faults > 0 && (
              <span className="kicker">{t(", {{faults}} with a fault", { faults })}</span>
            )}
          </>
        );
        return kind.lines.length > kind.folds ? (
          <details key={kind.title} className="next-kind">
            <summary>{title}</summary>
            {list}
          </details>
        ) : (
          <section key={kind.title} className="next-kind">
            <h3 className="h6">{title}</h3>
            {list}
          </section>
        );
      })}
    </section>
  );
}

function NextLine({ line, take }: { line: Line; take: TakeSummary | null }) {
  const called = useCalled();
  const found = line.state === "new-take" && take ? resultWords(take)[1] : line.what;
  return (
    <li>
      <Link
        to={
          line.take !== null && line.opens ? `/takes/${line.take}` : `/students/${line.student}`
        }
      >
        <Glyph shape={line.state} size={20} />
        <span>
          <span className="who d-block">{called(line.name)}</span>
          <span className="kicker">
            {found !== line.what && <span className="visually-hidden">{line.what}: </span>}
            {found}
          </span>
        </span>
        <span className="ms-auto">
          <TakeDrawing take={take} width={54} height={44} />
        </span>
      </Link>
    </li>
  );
}
