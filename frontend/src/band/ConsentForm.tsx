/** The parents' consent of many students at once. */
import { useState } from "react";
import { Form, Modal } from "react-bootstrap";
import { useSetConsent } from "../api/band";
import { counted, today } from "../shared/format";
import { DialogButtons } from "../shared/DialogButtons";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

interface Props {
  students: number[];
  close: (done: boolean) => void;
}

export function ConsentForm({ students, close }: Props) {
  const save = useSetConsent();
  const [since, setSince] = useState(today());
  const [until, setUntil] = useState("");
  return (
    <Modal show onHide={() => close(false)} aria-labelledby="consent-title" animation={false}>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(
            { students, consent_on: since || null, consent_until: until || null },
            { onSuccess: () => close(true) },
          );
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="consent-title">
            {t("Consent of {{student}}", { student: counted(students.length, "student") })}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Refused error={save.error} />
          <div className="d-flex gap-3 flex-wrap">
            <Form.Group controlId="consent-since">
              <Form.Label>{t("Filming consent since")}</Form.Label>
              <Form.Control
                type="date"
                required
                value={since}
                onChange={(event) => setSince(event.target.value)}
              />
            </Form.Group>
            <Form.Group controlId="consent-until">
              <Form.Label>{t("until (if limited)")}</Form.Label>
              <Form.Control
                type="date"
                value={until}
                onChange={(event) => setUntil(event.target.value)}
              />
            </Form.Group>
          </div>
        </Modal.Body>
        <DialogButtons
          cancel={() => close(false)}
          busy={save.isPending}
          words={t("Set consent")}
        />
      </Form>
    </Modal>
  );
}
