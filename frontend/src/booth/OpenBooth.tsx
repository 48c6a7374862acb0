/** Handing this screen over to the students of a section. */
import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { useBoothChoices, useOpenBooth } from "../api/booth";
import type { BandPage } from "../api/client";
import { Refused } from "../shared/states";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

interface Props {
  sections: BandPage["sections"];
  close: () => void;
}

export function OpenBooth({ sections, close }: Props) {
  const choices = useBoothChoices();
  const open = useOpenBooth();
  const [section, setSection] = useState(sections[0]?.id ?? 0);
  const [counts, setCounts] = useState<number | null>(null);
  const [focus, setFocus] = useState(false);
  const usual = choices.data?.counts[0];
  return (
    <Modal show onHide={close} aria-labelledby="open-booth">
      <Modal.Header closeButton>
        <Modal.Title id="open-booth">{t("Open the booth")}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          {t(
            "Students film themselves on this screen, one after the other. They see first names of one section and nothing else. It ends with your password.",
          )}
        </p>
        <Form.Group className="mb-3" controlId="booth-section">
          <Form.Label>{t("Section")}</Form.Label>
          <Form.Select
            value={section}
            onChange={(event) => setSection(Number(event.target.value))}
          >
            {sections.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="booth-counts">
          <Form.Label>{t("Counts to play")}</Form.Label>
          <Form.Select
            value={counts ?? usual}
            onChange={(event) => setCounts(Number(event.target.value))}
          >
            {choices.data?.counts.map((one) => (
              <option key={one} value={one}>
                {t("{{counts}} counts", { counts: one })}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Check
          className="mt-3"
          id="booth-focus"
          label={t("Show each student the one sentence of the own focus")}
          checked={focus}
          onChange={(event) => setFocus(event.target.checked)}
        />
        <Refused error={open.error} />
        {choices.data?.address && (
          <div className="another-screen mt-3">
            <img
              src={choices.data.qr}
              alt={t("QR code of {{address}}", { address: choices.data.address })}
            />
            <p className="mb-0">
              <Rich
                text="For a tablet in this room: open <strong>{{address}}</strong> there, log in, and open the booth on it."
                values={{ address: choices.data.address }}
                parts={{ strong: <strong /> }}
              />
            </p>
          </div>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={close}>
          {t("Cancel")}
        </Button>
        <Button
          disabled={open.isPending || usual === undefined}
          onClick={() => open.mutate({ section, counts: counts ?? usual ?? 0, focus })}
        >
          {t("Open the booth")}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
