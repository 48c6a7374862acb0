/** What the band and its sections are called, and in which row each section sits. */
import { useState } from "react";
import { Form, Modal } from "react-bootstrap";
import { useRenameBand } from "../api/band";
import type { BandPage } from "../api/client";
import { DialogButtons } from "../shared/DialogButtons";
import { Refused } from "../shared/states";

const ROWS = [1, 2, 3, 4, 5, 6];

export function BandNames({ band, close }: { band: BandPage; close: () => void }) {
  const save = useRenameBand();
  const [name, setName] = useState(band.name);
  const [sections, setSections] = useState(() =>
    band.sections.map(({ id, name, arc }) => ({ id, name, arc })),
  );
  const change = (id: number, part: { name?: string; arc?: number }) =>
    setSections((before) => before.map((one) => (one.id === id ? { ...one, ...part } : one)));
  return (
    <Modal show onHide={close} aria-labelledby="names-title" animation={false}>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate({ name, sections }, { onSuccess: close });
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="names-title">
            Names and seating
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Refused error={save.error} />
          <Form.Group controlId="band-name" className="mb-3">
            <Form.Label>Name of the band</Form.Label>
            <Form.Control
              required
              maxLength={80}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </Form.Group>
          {sections.map((section) => (
            <div key={section.id} className="d-flex gap-2 mb-2">
              <Form.Control
                required
                maxLength={40}
                aria-label="Name of a section"
                value={section.name}
                onChange={(event) => change(section.id, { name: event.target.value })}
              />
              <Form.Select
                className="w-auto"
                aria-label={`Row of ${section.name}`}
                value={section.arc}
                onChange={(event) => change(section.id, { arc: Number(event.target.value) })}
              >
                {ROWS.map((row) => (
                  <option key={row} value={row}>
                    {row === 1 ? "Front row" : `Row ${row}`}
                  </option>
                ))}
              </Form.Select>
            </div>
          ))}
        </Modal.Body>
        <DialogButtons cancel={close} busy={save.isPending} words="Save" />
      </Form>
    </Modal>
  );
}
