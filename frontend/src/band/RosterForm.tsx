/** A class list: looked at line by line before anybody is taken in, all or nobody. */
import { useState } from "react";
import { Alert, Button, Form, Modal } from "react-bootstrap";
import { useRoster } from "../api/records";
import { Refused } from "../shared/states";

export function RosterForm({ close }: { close: () => void }) {
  const roster = useRoster();
  const [table, setTable] = useState<File | null>(null);
  const lines = roster.data?.lines ?? [];
  const wrong = lines.filter((line) => line.wrong.length > 0);
  return (
    <Modal show onHide={close} size="lg" aria-labelledby="roster-title" animation={false}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="roster-title">
          Class list
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Refused error={roster.error} />
        <Form.Group controlId="roster-table" className="mb-3">
          <Form.Label>Spreadsheet saved as CSV</Form.Label>
          <Form.Control
            type="file"
            accept=".csv,.txt,text/csv"
            // A mended table has the name it had: to the field it must be new all the same.
            onClick={(event) => {
              (event.target as HTMLInputElement).value = "";
            }}
            onChange={(event) => {
              const file = (event.target as HTMLInputElement).files?.[0] ?? null;
              setTable(file);
              roster.reset();
              if (file) roster.mutate({ table: file, keep: false });
            }}
          />
          <Form.Text>
            The first row names the columns: name and instrument, and optionally style, consent,
            consent until and keep until. Write dates as 2026-11-26.
          </Form.Text>
        </Form.Group>
        {wrong.length > 0 && (
          <Alert variant="danger" className="py-2">
            {wrong.length === 1 ? "One row needs" : `${wrong.length} rows need`} fixing. Fix the
            file and choose it again; nothing is imported until every row is valid.
          </Alert>
        )}
        {lines.length > 0 && (
          <div className="roster-lines">
            <table className="table table-sm mb-0">
              <thead>
                <tr>
                  <th scope="col">Line</th>
                  <th scope="col">Name</th>
                  <th scope="col">Instrument</th>
                  <th scope="col">Consent</th>
                  <th scope="col">What to fix</th>
                </tr>
              </thead>
              <tbody>
                {[...wrong, ...lines.filter((line) => line.wrong.length === 0)].map((line) => (
                  <tr key={line.number} className={line.wrong.length > 0 ? "lost" : undefined}>
                    <td className="figures">{line.number}</td>
                    <td>{line.name}</td>
                    <td>
                      {line.instrument}
                      {line.school && `, ${line.school}`}
                    </td>
                    <td className="figures">{line.consent_on ?? "none"}</td>
                    <td>{line.wrong.join(" ") || "✓"}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={close}>
          Leave
        </Button>
        <Button
          disabled={!table || lines.length === 0 || wrong.length > 0 || roster.isPending}
          onClick={() =>
            table && roster.mutate({ table, keep: true }, { onSuccess: () => close() })
          }
        >
          {lines.length === 0 || wrong.length > 0
            ? "Import"
            : lines.length === 1
              ? "Import 1 student"
              : `Import ${lines.length} students`}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
