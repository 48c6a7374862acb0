/** What the band and its sections are called, and where everybody sits. */
import { useState } from "react";
import { Form, Modal } from "react-bootstrap";
import { useRenameBand } from "../api/band";
import type { BandPage, Chair } from "../api/client";
import { DialogButtons } from "../shared/DialogButtons";
import { counted } from "../shared/format";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

const ROWS = [1, 2, 3, 4, 5, 6];

export function BandNames({ band, close }: { band: BandPage; close: () => void }) {
  const save = useRenameBand();
  const [name, setName] = useState(band.name);
  const [sections, setSections] = useState(() =>
    band.sections.map(({ id, name, arc, chairs }) => ({ id, name, arc, chairs })),
  );
  const change = (id: number, part: Partial<(typeof sections)[number]>) =>
    setSections((before) => before.map((one) => (one.id === id ? { ...one, ...part } : one)));
  return (
    <Modal show onHide={close} aria-labelledby="names-title" animation={false}>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          // Where nobody was moved, the section goes on sitting by names.
          const seated = sections.map(({ chairs, ...section }, n) => ({
            ...section,
            students: chairs === band.sections[n]?.chairs ? [] : chairs.map((one) => one.id),
          }));
          save.mutate({ name, sections: seated }, { onSuccess: close });
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="names-title">
            {t("Names and seating")}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Refused error={save.error} />
          <Form.Group controlId="band-name" className="mb-3">
            <Form.Label>{t("Name of the band")}</Form.Label>
            <Form.Control
              required
              maxLength={80}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </Form.Group>
          {sections.map((section) => (
            <div key={section.id} className="mb-3">
              <div className="d-flex gap-2">
                <Form.Control
                  required
                  maxLength={40}
                  aria-label={t("Name of a section")}
                  value={section.name}
                  onChange={(event) => change(section.id, { name: event.target.value })}
                />
                <Form.Select
                  className="w-auto"
                  aria-label={t("Row of {{name}}", { name: section.name })}
                  value={section.arc}
                  onChange={(event) => change(section.id, { arc: Number(event.target.value) })}
                >
                  {ROWS.map((row) => (
                    <option key={row} value={row}>
                      {row === 1 ? t("Front row") : t("Row {{row}}", { row })}
                    </option>
                  ))}
                </Form.Select>
              </div>
              {section.chairs.length > 1 && (
                <Seats
                  chairs={section.chairs}
                  name={section.name}
                  change={(chairs) => change(section.id, { chairs })}
                />
              )}
            </div>
          ))}
        </Modal.Body>
        <DialogButtons cancel={close} busy={save.isPending} words={t("Save")} />
      </Form>
    </Modal>
  );
}

interface SeatsProps {
  chairs: Chair[];
  /** Of the section. */
  name: string;
  change: (chairs: Chair[]) => void;
}

/** Who sits on which chair of a section: another number moves one there, the others close up. */
function Seats({ chairs, name, change }: SeatsProps) {
  const move = (chair: Chair, seat: number) => {
    const others = chairs.filter((one) => one.id !== chair.id);
    change([...others.slice(0, seat - 1), chair, ...others.slice(seat - 1)]);
  };
  return (
    <details className="mt-1">
      <summary className="faint">
        {t("Seats of {{name}}: {{student}}", {
          name,
          student: counted(chairs.length, "student"),
        })}
      </summary>
      <ol className="list-unstyled mt-1 mb-0">
        {chairs.map((chair, n) => (
          <li key={chair.id} className="d-flex gap-2 align-items-center py-1">
            <Form.Select
              size="sm"
              className="w-auto"
              aria-label={t("Seat of {{name}}", { name: chair.name })}
              value={n + 1}
              onChange={(event) => move(chair, Number(event.target.value))}
            >
              {chairs.map((_, seat) => (
                <option key={seat} value={seat + 1}>
                  {seat + 1}
                </option>
              ))}
            </Form.Select>
            {chair.name}
          </li>
        ))}
      </ol>
    </details>
  );
}
