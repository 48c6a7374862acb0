/** A class list: every row is checked and shown before anything is imported, all or nothing. */
import { useState } from "react";
import { Alert, Button, Form, Modal } from "react-bootstrap";
import { useRoster, type RosterLine } from "../api/band";
import { counted, day } from "../shared/format";
import { Refused } from "../shared/states";

const FIELDS: Record<string, string> = {
  instrument: "instrument",
  school: "style",
  consent_on: "consent",
  consent_until: "consent until",
  retain_until: "keep until",
};

export function RosterForm({ close }: { close: () => void }) {
  const roster = useRoster();
  const [table, setTable] = useState<File | null>(null);
  const [dates, setDates] = useState("");
  const lines = roster.data?.lines ?? [];
  const wrong = lines.filter((line) => line.wrong.length > 0);
  const added = lines.filter((line) => !line.known).length;
  const changed = lines.filter((line) => line.changes.length > 0).length;
  const ready =
    table !== null && wrong.length === 0 && !roster.data?.asks && added + changed > 0;
  function check(file: File, order: string) {
    roster.mutate({ table: file, keep: false, dates: order });
  }
  return (
    <Modal show onHide={close} size="lg" aria-labelledby="roster-title" animation={false}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="roster-title">
          Import class list
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Refused error={roster.error} />
        <Form.Group controlId="roster-table" className="mb-3">
          <Form.Label>Spreadsheet (xlsx) or CSV file</Form.Label>
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
            The first row names the columns: name and instrument, and optionally style, consent,
            consent until and keep until. Students already in the band are updated.{" "}
            <a href="/api/roster/template.csv">Download a template</a>
          </Form.Text>
        </Form.Group>
        {roster.data?.asks && table && (
          <Alert variant="warning" className="py-2">
            <p className="mb-2">Which comes first in dates such as 3/4/2026?</p>
            <Button
              size="sm"
              className="me-2"
              onClick={() => {
                setDates("month");
                check(table, "month");
              }}
            >
              Month first (March 4)
            </Button>
            <Button
              size="sm"
              onClick={() => {
                setDates("day");
                check(table, "day");
              }}
            >
              Day first (3 April)
            </Button>
          </Alert>
        )}
        {wrong.length > 0 && (
          <Alert variant="danger" className="py-2">
            {wrong.length === 1 ? "One row needs" : `${wrong.length} rows need`} fixing. Fix the
            file and choose it again; nothing is imported until every row is valid.
          </Alert>
        )}
        {roster.data && roster.data.ignored.length > 0 && (
          <p className="faint">Columns not used: {roster.data.ignored.join(", ")}.</p>
        )}
        {lines.length > 0 && (
          <>
            <p className="mb-1">
              {added} new, {changed} changed, {lines.length - added - changed} unchanged
            </p>
            <Lines lines={[...wrong, ...lines.filter((line) => line.wrong.length === 0)]} />
          </>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={close}>
          Cancel
        </Button>
        <Button
          disabled={!ready || roster.isPending}
          onClick={() =>
            table && roster.mutate({ table, keep: true, dates }, { onSuccess: close })
          }
        >
          {ready ? `Import ${counted(added + changed, "student")}` : "Import"}
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
            <th scope="col">Row</th>
            <th scope="col">Name</th>
            <th scope="col">Instrument</th>
            <th scope="col">Consent</th>
            <th scope="col">Result</th>
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
              <td className="figures">{line.consent_on ? day(line.consent_on) : "none"}</td>
              <td>{line.wrong.join(" ") || resultOf(line)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function resultOf(line: RosterLine): string {
  if (!line.known) return "new";
  if (line.changes.length === 0) return "unchanged";
  return line.changes
    .map(
      ({ field, old, new: now }) =>
        `${FIELDS[field] ?? field}: ${old || "none"} → ${now || "none"}`,
    )
    .join("; ");
}
