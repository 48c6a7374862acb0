/** All bands of a teacher, and the step into the next school year. */
import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { useBandEdits, useBands, type BandRow } from "../api/band";
import type { BandPage } from "../api/client";
import { counted } from "../shared/format";
import { Refused } from "../shared/states";
import { tell } from "../shared/toasts";
import { t } from "../shared/words";

export function Bands({ band, close }: { band: BandPage; close: () => void }) {
  const bands = useBands();
  const edits = useBandEdits();
  const { choose, remove } = edits;
  const open = bands.data?.filter((one) => !one.archived) ?? [];
  return (
    <Modal show onHide={close} aria-labelledby="bands-title" animation={false} size="lg">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="bands-title">
          {t("Bands and school years")}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Refused error={bands.error ?? choose.error ?? remove.error} />
        <ul className="list-unstyled">
          {bands.data?.map((one) => (
            <BandLine
              key={one.id}
              one={one}
              last={open.length < 2}
              busy={choose.isPending || remove.isPending}
              choose={(what) =>
                choose.mutate(
                  { id: one.id, what },
                  { onSuccess: what === "show" ? close : undefined },
                )
              }
              remove={() => remove.mutate(one.id)}
            />
          ))}
        </ul>
        <NewBand band={band} add={edits.add} close={close} />
      </Modal.Body>
    </Modal>
  );
}

interface LineProps {
  one: BandRow;
  /** Whether no other band is open. */
  last: boolean;
  busy: boolean;
  choose: (what: "show" | "archive") => void;
  remove: () => void;
}

function BandLine({ one, last, busy, choose, remove }: LineProps) {
  const button = { size: "sm", variant: "outline-secondary", disabled: busy } as const;
  return (
    <li className="d-flex flex-wrap gap-2 align-items-baseline border-bottom py-2">
      <strong>{one.name}</strong>
      <span className="faint">
        {[one.year, counted(one.size, "student"), one.archived ? t("archived") : ""]
          .filter(Boolean)
          .join(", ")}
      </span>
      <span className="flex-fill" />
      {one.shown ? (
        <span>{t("Open now")}</span>
      ) : (
        <Button
          {...button}
          onClick={() => choose("show")}
          aria-label={t("Open {{name}}", { name: one.name })}
        >
          {t("Open")}
        </Button>
      )}
      {!one.archived && !last && one.size > 0 && (
        <Button
          {...button}
          onClick={() => choose("archive")}
          aria-label={t("Archive {{name}}", { name: one.name })}
        >
          {t("Archive")}
        </Button>
      )}
      {one.size === 0 && !(last && !one.archived) && (
        <Button
          {...button}
          onClick={remove}
          aria-label={t("Delete {{name}}", { name: one.name })}
        >
          {t("Delete")}
        </Button>
      )}
    </li>
  );
}

interface NewProps {
  band: BandPage;
  add: ReturnType<typeof useBandEdits>["add"];
  close: () => void;
}

/** A new band: empty, or with the students who move up into it. */
function NewBand({ band, add, close }: NewProps) {
  const everybody = band.sections.flatMap((section) => section.chairs);
  const [name, setName] = useState("");
  const [year, setYear] = useState("");
  const [moving, setMoving] = useState<ReadonlySet<number>>(new Set());
  const [archive, setArchive] = useState(false);
  const toggle = (ids: number[], on: boolean) =>
    setMoving((before) => {
      const next = new Set(before);
      for (const id of ids)
        if (on) next.add(id);
        else next.delete(id);
      return next;
    });
  return (
    <Form
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate(
          { name, year, students: [...moving], archive },
          {
            onSuccess: () => {
              tell(t("{{name}} is open now.", { name }));
              close();
            },
          },
        );
      }}
    >
      <h3 className="h5">{t("New band or school year")}</h3>
      <Refused error={add.error} />
      <div className="row">
        <Form.Group className="col-sm-8 mb-2" controlId="new-band-name">
          <Form.Label>{t("Name")}</Form.Label>
          <Form.Control
            required
            maxLength={80}
            placeholder={band.name}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </Form.Group>
        <Form.Group className="col-sm-4 mb-2" controlId="new-band-year">
          <Form.Label>{t("School year")}</Form.Label>
          <Form.Control
            maxLength={20}
            placeholder="2026/27"
            value={year}
            onChange={(event) => setYear(event.target.value)}
          />
        </Form.Group>
      </div>
      {everybody.length > 0 && (
        <details className="mb-2">
          <summary>
            {t("Move students up from {{name}}: {{some}} of {{all}}", {
              name: band.name,
              some: moving.size,
              all: everybody.length,
            })}
          </summary>
          <p className="faint mb-2">
            {t("They take all their takes and plans along. The others stay where they are.")}
          </p>
          <Button
            size="sm"
            variant="outline-secondary"
            className="mb-2"
            onClick={() =>
              toggle(
                everybody.map((chair) => chair.id),
                moving.size < everybody.length,
              )
            }
          >
            {moving.size < everybody.length ? t("Select everyone") : t("Select no one")}
          </Button>
          <div className="moving">
            {band.sections.map((section) => (
              <fieldset key={section.id}>
                <legend className="kicker mb-0">{section.name}</legend>
                {section.chairs.map((chair) => (
                  <Form.Check
                    key={chair.id}
                    id={`moves-${chair.id}`}
                    label={chair.name}
                    checked={moving.has(chair.id)}
                    onChange={(event) => toggle([chair.id], event.target.checked)}
                  />
                ))}
              </fieldset>
            ))}
          </div>
          <Form.Check
            className="mt-2"
            id="archive-before"
            label={t("The school year is over: archive {{name}}", { name: band.name })}
            checked={archive}
            onChange={(event) => setArchive(event.target.checked)}
          />
        </details>
      )}
      <Button type="submit" disabled={add.isPending}>
        {t("Add band")}
      </Button>
    </Form>
  );
}
