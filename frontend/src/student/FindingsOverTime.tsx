/** Which faults showed on which take: a row each, the newest take on the right. */
import { viewWords } from "../shared/views";
import { Link } from "react-router";
import type { StudentRecord } from "../api/records";
import { noon, shortDay } from "../shared/format";
import { Glyph } from "../shared/glyphs";
import { t } from "../shared/words";

type Cell = StudentRecord["findings"][number]["cells"][number];

const CELLS: Record<Cell, [shape: string, words: string]> = {
  "": ["", t("not seen")],
  focus: ["focus", t("the focus")],
  fault: ["focus", "found"],
  watch: ["watch", t("to watch")],
  dismissed: ["failed", "dismissed"],
};
/** The newest takes there is room for. */
const MOST = 10;

export function FindingsOverTime({ record }: { record: StudentRecord }) {
  if (record.findings.length === 0) return null;
  // Newest first on the wire, newest last on the page.
  const takes = record.takes.slice(0, MOST).reverse();
  const rows = record.findings
    .map((row) => ({ ...row, cells: row.cells.slice(0, MOST).reverse() }))
    .filter((row) => row.cells.some((cell) => cell !== ""));
  return (
    <section aria-labelledby="findings-title" className="mb-4">
      <h2 id="findings-title" className="h4">
        {t("Findings over time")}
      </h2>
      <div className="table-responsive">
        <table className="table table-sm findings-table figures">
          <thead>
            <tr>
              <th scope="col">
                <span className="visually-hidden">{t("Fault")}</span>
              </th>
              {takes.map((take) => (
                <th key={take.id} scope="col" className="text-center fw-normal">
                  <Link to={`/takes/${take.id}`} className="text-body">
                    {shortDay(noon(take.filmed_on))}
                  </Link>
                  <span className="kicker d-block">{viewWords(take.view)}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.fault}>
                <th scope="row" className="fw-normal">
                  {row.name}
                </th>
                {row.cells.map((cell, n) => {
                  const [shape, words] = CELLS[cell];
                  return (
                    <td
                      key={takes[n]?.id}
                      className={`text-center ${cell === "focus" ? "is-focus" : ""}`}
                    >
                      {shape && <Glyph shape={shape} size={18} />}
                      <span className="visually-hidden">{words}</span>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="kicker">
        <Glyph shape="focus" size={13} /> {t("found (framed: focus),")}{" "}
        <Glyph shape="watch" size={13} /> {t("to watch,")} <Glyph shape="failed" size={13} />{" "}
        {t("dismissed")}
      </p>
    </section>
  );
}
