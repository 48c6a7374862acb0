/** A class list: every row is checked and shown before anything is imported, all or nothing. */
import { useState } from "react";
import { Alert, Button, Form, Modal } from "react-bootstrap";
import { useRoster, type RosterLine } from "../api/band";
import { counted, day } from "../shared/format";
import { Refused } from "../shared/states";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

const FIELDS: Record<string, string> = {
  instrument: "instrument",
  school: "style",
  consent_on: "consent",
  consent_until: t("consent until"),
  retain_until: t("keep until"),
};

export function RosterForm({ close }: { close: () => void }) {
  const roster = useRoster();
  const [table, setTable] = useState<File | null>(null);
  const [dates, setDates] = useState("");
  const lines = roster.data?.lines ?? [];
  const wrong = lines.filter((line) => line.wrong.length > 0);
  const skipped = lines.filter((line) => line.skipped !== "");
  const added = lines.filter((line) => !line.known && !line.skipped).length;
  const changed = lines.filter((line) => line.changes.length > 0).length;
  const ready =
    table !== null && wrong.length === 0 && !roster.data?.asks && added + changed > 0;
  function check(file: File, order: string) {
    roster.mutate({ table: file, keep: false, dates: order });
  }
  return (
    <Modal
      show
      scrollable
      onHide={close}
      size="lg"
      aria-labelledby="roster-title"
      animation={false}
    >
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="roster-title">
          {t("Import class list")}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Refused error={roster.error} />
        <Form.Group controlId="roster-table" className="mb-3">
          <Form.Label>{t("Spreadsheet (xlsx) or CSV file")}</Form.Label>
          <Form.Control
            type="file"
            accept=".xlsx,.csv,.txt,text/csv"
            // A corrected file has the name it had: to the field it must be new all the same.
            onClick={(event) => {
              (event.target as HTMLInputElement).value = "";
            }}
            onChange={(event) => {
              const file = (event.target as HTMLInputElement).files?.[0] ?? null;
              setTable(file);
              setDates("");
              roster.reset();
              if (file) check(file, "");
            }}
          />
          <Form.Text>
            <Rich
              text="The first row names the columns: name and instrument, and optionally style, consent, consent until and keep until. Students already in the band are updated. <a>Download a template</a>"
              parts={{ a: <a href="/api/roster/template.csv" /> }}
            />
          </Form.Text>
        </Form.Group>
        {roster.data?.asks && table && (
          <Alert variant="warning" className="py-2">
            <p className="mb-2">{t("Which comes first in dates such as 3/4/2026?")}</p>
            <Button
              size="sm"
              className="me-2"
              onClick={() => {
                setDates("month");
                check(table, "month");
              }}
            >
              {t("Month first (March 4)")}
            </Button>
            <Button
              size="sm"
              onClick={() => {
                setDates("day");
                check(table, "day");
              }}
            >
              {t("Day first (3 April)")}
            </Button>
          </Alert>
        )}
        {wrong.length > 0 && (
          <Alert variant="danger" className="py-2">
            {t(
              "{{rows}} fixing. Fix the file and choose it again; nothing is imported until every row is valid.",
              {
                rows:
                  wrong.length === 1
                    ? t("One row needs")
                    : t("{{count}} rows need", { count: wrong.length }),
              },
            )}
          </Alert>
        )}
        {roster.data && roster.data.ignored.length > 0 && (
          <p className="faint">
            {t("Columns not used: {{ignored}}.", { ignored: roster.data.ignored.join(", ") })}
          </p>
        )}
        {lines.length > 0 && (
          <>
            <p className="mb-1">
              {t("{{added}} new, {{changed}} changed, {{unchanged}} unchanged", {
                added,
                changed,
                unchanged: lines.length - added - changed - skipped.length,
              })}
            </p>
            {skipped.length > 0 && (
              <p className="mb-2">
                {t(
                  "Left out: {{names}}. Nothing is filmed there, or the instrument is not known.",
                  {
                    names: skipped
                      .map((line) => `${line.name || t("no name")} (${line.instrument})`)
                      .join(", "),
                  },
                )}
              </p>
            )}
            <Lines
              lines={[
                ...wrong,
                ...lines.filter((line) => line.wrong.length === 0 && !line.skipped),
                ...skipped,
              ]}
            />
          </>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={close}>
          {t("Cancel")}
        </Button>
        <Button
          disabled={!ready || roster.isPending}
          onClick={() =>
            table && roster.mutate({ table, keep: true, dates }, { onSuccess: close })
          }
        >
          {ready
            ? t("Import {{student}}", { student: counted(added + changed, "student") })
            : t("Import")}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

function Lines({ lines }: { lines: RosterLine[] }) {
  return (
    <div className="roster-lines">
      <table className="table table-sm mb-0">
        <thead>
          <tr>
            <th scope="col">{t("Row")}</th>
            <th scope="col">{t("Name")}</th>
            <th scope="col">{t("Instrument")}</th>
            <th scope="col">{t("Consent")}</th>
            <th scope="col">{t("Result")}</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={line.number} className={line.wrong.length > 0 ? "lost" : undefined}>
              <td className="figures">{line.number}</td>
              <td>{line.name}</td>
              <td>
                {line.instrument}
                {line.school && `, ${line.school}`}
              </td>
              <td className="figures">{line.consent_on ? day(line.consent_on) : t("none")}</td>
              <td>{line.wrong.join(" ") || resultOf(line)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function resultOf(line: RosterLine): string {
  if (line.skipped) return t("left out");
  if (!line.known) return "new";
  if (line.changes.length === 0) return "unchanged";
  return line.changes
    .map(
      ({ field, old, new: now }) =>
        `${FIELDS[field] ?? field}: ${old || "none"} → ${now || "none"}`,
    )
    .join("; ");
}
