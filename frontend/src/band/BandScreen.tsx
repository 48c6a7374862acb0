import { useState } from "react";
import { Alert, Button, ButtonGroup, Table } from "react-bootstrap";
import { Link } from "react-router";
import type { BandPage } from "../api/client";
import { useBand, useStandards } from "../api/queries";
import { counted, day } from "../shared/format";
import { PageLines } from "../shared/drawing/lines";
import { TakeDrawing } from "../shared/drawing/TakeDrawing";
import { Glyph, chairWords } from "../shared/glyphs";
import { useCalled } from "../shared/projector";
import { slipsAddress } from "../shared/slip";
import { Trouble, Waiting } from "../shared/states";
import { StudentForm } from "../student/StudentForm";
import { BandFilters } from "./BandFilters";
import { RosterForm } from "./RosterForm";
import { ALL, filtered, type Filter } from "./filters";
import { SeatingPlan, chairAddress } from "./SeatingPlan";

/** More chairs than this are easier to find in a list. */
const MOST_ON_STAGE = 40;

/** Too narrow for the plan's chairs to be read. */
function isNarrow(): boolean {
  return window.matchMedia?.("(width <= 640px)").matches ?? false;
}

export function BandScreen() {
  const band = useBand();
  const [adding, setAdding] = useState(false);
  const [listing, setListing] = useState(false);
  const [filter, setFilter] = useState<Filter>(ALL);
  const [chosen, choose] = useState<"plan" | "list" | null>(null);
  if (band.isPending) return <Waiting what="the band" />;
  if (band.isError) return <Trouble error={band.error} retry={() => void band.refetch()} />;
  const { sections, next, name } = band.data;
  const chairs = sections.reduce((sum, s) => sum + s.chairs.length, 0);
  const view = chosen ?? (chairs > MOST_ON_STAGE || isNarrow() ? "list" : "plan");
  const shown = filtered(sections, filter);
  const fitting = shown.flatMap((s) => s.chairs);
  const slips = fitting.filter((chair) => chair.focus !== null && chair.take !== null);
  return (
    <PageLines.Provider value={band.data.lines}>
      <main className="page">
        <div className="band-heading d-flex flex-wrap align-items-baseline gap-2 mb-2">
          <h1 className="mb-0">{name || "Your band"}</h1>
          <span className="faint figures">{counted(chairs, "student")}</span>
          <span className="flex-fill" />
          {slips.length > 0 && (
            <a
              className="btn btn-sm btn-outline-secondary"
              href={slipsAddress(slips.length === chairs ? null : slips.map((c) => c.id))}
              target="_blank"
              rel="noreferrer"
            >
              {slips.length === 1 ? "1 slip" : `${slips.length} slips`}
            </a>
          )}
          <Link className="btn btn-sm btn-outline-secondary" to="/clips">
            Upload clips
          </Link>
          <Button size="sm" variant="outline-secondary" onClick={() => setListing(true)}>
            Class list
          </Button>
          <Button size="sm" onClick={() => setAdding(true)}>
            Add a student
          </Button>
        </div>
        {chairs === 0 ? (
          <div className="py-5 text-center">
            <p className="fs-4 serif">No students yet.</p>
            <p className="faint">
              Add a student with an instrument and the date of the parents' consent, then upload
              the first clip. Or import a class list, or restore a band from a backup.
            </p>
            <Button size="lg" className="me-2" onClick={() => setAdding(true)}>
              Add first student
            </Button>
            <Button
              size="lg"
              variant="outline-secondary"
              className="me-2"
              onClick={() => setListing(true)}
            >
              Import class list
            </Button>
            <Link className="btn btn-lg btn-outline-secondary" to="/records">
              Restore a backup
            </Link>
          </div>
        ) : (
          <div className="band-screen">
            <section aria-label={view === "plan" ? "Seating plan" : "All students"}>
              <BandFilters
                sections={sections}
                filter={filter}
                setFilter={setFilter}
                left={fitting.length}
              >
                <ButtonGroup size="sm" aria-label="How to show the band">
                  {(["plan", "list"] as const).map((kind) => (
                    <Button
                      key={kind}
                      variant={view === kind ? "secondary" : "outline-secondary"}
                      aria-pressed={view === kind}
                      onClick={() => choose(kind)}
                    >
                      {kind === "plan" ? "Plan" : "List"}
                    </Button>
                  ))}
                </ButtonGroup>
              </BandFilters>
              {fitting.length === 0 ? (
                <p className="faint py-4">
                  No students match. Clear the filters to see everyone.
                </p>
              ) : view === "plan" ? (
                <SeatingPlan sections={sections} filter={filter} />
              ) : (
                <ChairList sections={shown} />
              )}
            </section>
            <NextForYou next={next} sections={sections} warning={band.data.warning} />
          </div>
        )}
        {adding && <StudentForm close={() => setAdding(false)} />}
        {listing && <RosterForm close={() => setListing(false)} />}
      </main>
    </PageLines.Provider>
  );
}

function NextForYou({
  next,
  sections,
  warning,
}: Pick<BandPage, "next" | "sections" | "warning">) {
  const called = useCalled();
  const takes = new Map(
    sections.flatMap((s) => s.chairs.map((chair) => [chair.id, chair.take] as const)),
  );
  return (
    <section aria-labelledby="next-title">
      <h2 id="next-title" className="h3">
        Next for you
      </h2>
      {warning && (
        <Alert variant="danger" className="py-2 px-3">
          {warning}
        </Alert>
      )}
      {next.length === 0 ? (
        <p className="faint">All done. Film a take, or open a student.</p>
      ) : (
        <ol className="next-list">
          {next.map((line) => (
            <li key={line.student}>
              <Link
                to={
                  line.take !== null && line.opens
                    ? `/takes/${line.take}`
                    : `/students/${line.student}`
                }
              >
                <Glyph shape={line.state} size={20} />
                <span>
                  <span className="who d-block">{called(line.name)}</span>
                  <span className="kicker">{line.what}</span>
                </span>
                <span className="ms-auto">
                  <TakeDrawing take={takes.get(line.student) ?? null} width={54} height={44} />
                </span>
              </Link>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}

function ChairList({ sections }: { sections: BandPage["sections"] }) {
  const called = useCalled();
  const standards = useStandards();
  const named = (instrument: string) =>
    standards.data?.find((s) => s.instrument === instrument)?.name ?? instrument;
  return (
    <Table>
      <thead>
        <tr>
          <th scope="col">Student</th>
          <th scope="col">Instrument</th>
          <th scope="col">State</th>
          <th scope="col" className="d-none d-sm-table-cell">
            Last take
          </th>
          <th scope="col" className="d-none d-sm-table-cell">
            <span className="visually-hidden">Drawing</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {sections.flatMap((section) =>
          section.chairs.map((chair) => (
            <tr key={chair.id}>
              <th scope="row">
                <Link to={chairAddress(chair)}>{called(chair.name)}</Link>
              </th>
              <td>{named(chair.instrument)}</td>
              <td>
                <Glyph shape={chair.state} /> {chairWords(chair)}
              </td>
              <td className="figures d-none d-sm-table-cell">
                {chair.take ? day(chair.take.filmed_on) : "none"}
              </td>
              <td className="d-none d-sm-table-cell">
                <TakeDrawing take={chair.take} width={54} height={44} />
              </td>
            </tr>
          )),
        )}
      </tbody>
    </Table>
  );
}
