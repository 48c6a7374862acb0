/** All students in a table: sorted by any column, some of them chosen to do something for all. */
import { useState } from "react";
import { Button, Form, Table } from "react-bootstrap";
import { Link } from "react-router";
import type { BandPage, Chair } from "../api/client";
import { useStandards } from "../api/queries";
import { day } from "../shared/format";
import { TakeDrawing } from "../shared/drawing/TakeDrawing";
import { Glyph, chairWords } from "../shared/glyphs";
import { useCalled } from "../shared/projector";
import { ConsentForm } from "./ConsentForm";
import { chairAddress } from "./SeatingPlan";
import type { BandView, Sort } from "./useBandView";
import { t } from "../shared/words";

const COLUMNS: { sort: Sort; name: string; narrow: boolean }[] = [
  { sort: "name", name: t("Student"), narrow: true },
  { sort: "section", name: t("Section"), narrow: false },
  { sort: "instrument", name: t("Instrument"), narrow: true },
  { sort: "state", name: t("State"), narrow: true },
  { sort: "take", name: t("Last take"), narrow: false },
];
const WIDE = "d-none d-md-table-cell";

interface Row {
  chair: Chair;
  section: string;
  place: number;
}

interface Props {
  sections: BandPage["sections"];
  view: BandView;
}

export function StudentTable({ sections, view }: Props) {
  const called = useCalled();
  const standards = useStandards();
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [asking, setAsking] = useState(false);
  const named = (instrument: string) =>
    standards.data?.find((s) => s.instrument === instrument)?.name ?? instrument;
  const rows: Row[] = sections
    .flatMap((section) => section.chairs.map((chair) => ({ chair, section: section.name })))
    .map((row, place) => ({ ...row, place }))
    .sort((a, b) => compare(a, b, view.sort, named) * (view.down ? -1 : 1));
  const there = rows.filter((row) => chosen.has(row.chair.id));
  const all = there.length === rows.length;
  const toggle = (id: number) =>
    setChosen((before) => {
      const after = new Set(before);
      if (!after.delete(id)) after.add(id);
      return after;
    });
  return (
    <>
      {there.length > 0 && (
        <div className="chosen-bar" role="group" aria-label={t("Selected students")}>
          <strong>{t("{{count}} selected", { count: there.length })}</strong>
          <Button size="sm" onClick={() => setAsking(true)}>
            {t("Set consent")}
          </Button>
          <Button size="sm" variant="link" onClick={() => setChosen(new Set())}>
            {t("Select none")}
          </Button>
        </div>
      )}
      <Table className="students">
        <thead>
          <tr>
            <th scope="col">
              <Form.Check
                aria-label={t("Select all")}
                checked={all}
                onChange={() =>
                  setChosen(all ? new Set() : new Set(rows.map((row) => row.chair.id)))
                }
              />
            </th>
            {COLUMNS.map(({ sort, name, narrow }) => (
              <th
                key={sort}
                scope="col"
                className={narrow ? undefined : WIDE}
                aria-sort={
                  view.sort !== sort ? undefined : view.down ? "descending" : "ascending"
                }
              >
                <button type="button" className="sort" onClick={() => view.sortBy(sort)}>
                  {name}
                  {view.sort === sort && (view.down ? " ↓" : " ↑")}
                </button>
              </th>
            ))}
            <th scope="col" className={WIDE}>
              <span className="visually-hidden">{t("Drawing")}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ chair, section }) => (
            <tr key={chair.id}>
              <td>
                <Form.Check
                  aria-label={t("Select {{name}}", { name: called(chair.name) })}
                  checked={chosen.has(chair.id)}
                  onChange={() => toggle(chair.id)}
                />
              </td>
              <th scope="row">
                <Link to={chairAddress(chair)}>{called(chair.name)}</Link>
              </th>
              <td className={WIDE}>{section}</td>
              <td>{named(chair.instrument)}</td>
              <td>
                <Glyph shape={chair.state} /> {chairWords(chair)}
              </td>
              <td className={`figures ${WIDE}`}>
                {chair.take ? day(chair.take.filmed_on) : t("none")}
              </td>
              <td className={WIDE}>
                <TakeDrawing take={chair.take} width={54} height={44} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {asking && (
        <ConsentForm
          students={there.map((row) => row.chair.id)}
          close={(done) => {
            setAsking(false);
            if (done) setChosen(new Set());
          }}
        />
      )}
    </>
  );
}

function compare(a: Row, b: Row, sort: Sort, named: (instrument: string) => string): number {
  const words: Record<Exclude<Sort, "section">, (row: Row) => string> = {
    name: (row) => row.chair.name,
    instrument: (row) => named(row.chair.instrument),
    state: (row) => chairWords(row.chair),
    take: (row) => row.chair.take?.filmed_on ?? "",
  };
  const first =
    sort === "section" ? 0 : words[sort](a).localeCompare(words[sort](b), undefined);
  return first || a.place - b.place;
}
