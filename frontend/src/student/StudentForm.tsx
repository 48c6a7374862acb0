/** A student's facts: new, or changed. */
import { useState } from "react";
import { Form, Modal } from "react-bootstrap";
import type { StudentFacts } from "../api/client";
import { useSaveStudent, useStandards } from "../api/queries";
import { DialogButtons } from "../shared/DialogButtons";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

interface Props {
  student?: { id: number } & StudentFacts;
  close: () => void;
}

export function StudentForm({ student, close }: Props) {
  const standards = useStandards();
  const save = useSaveStudent(student?.id ?? null);
  const [facts, setFacts] = useState<StudentFacts>({
    name: student?.name ?? "",
    instrument: student?.instrument ?? "",
    school: student?.school ?? "",
    consent_on: student?.consent_on ?? null,
    consent_until: student?.consent_until ?? null,
    retain_until: student?.retain_until ?? null,
  });
  const change = (part: Partial<StudentFacts>) => setFacts((now) => ({ ...now, ...part }));
  const schools = standards.data?.find((s) => s.instrument === facts.instrument)?.schools ?? [];
  const school = schools.find((s) => s.id === facts.school) ?? schools[0];
  return (
    <Modal show onHide={close} aria-labelledby="student-title" animation={false}>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(facts, { onSuccess: close });
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="student-title">
            {student ? t("Edit student") : t("New student")}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Refused error={save.error} />
          <Form.Group className="mb-3" controlId="student-name">
            <Form.Label>{t("Name")}</Form.Label>
            <Form.Control
              required
              autoFocus
              maxLength={80}
              value={facts.name}
              onChange={(event) => change({ name: event.target.value })}
            />
          </Form.Group>
          <Form.Group className="mb-3" controlId="student-instrument">
            <Form.Label>{t("Instrument")}</Form.Label>
            <Form.Select
              required
              value={facts.instrument}
              onChange={(event) => change({ instrument: event.target.value, school: "" })}
            >
              <option value="">{t("Choose …")}</option>
              {standards.data?.map((s) => (
                <option key={s.instrument} value={s.instrument}>
                  {s.name}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
          {schools.length > 0 && (
            <Form.Group className="mb-3" controlId="student-school">
              <Form.Label>{t("Embouchure style")}</Form.Label>
              <Form.Select
                value={facts.school || schools[0]?.id}
                onChange={(event) => change({ school: event.target.value })}
              >
                {schools.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
              </Form.Select>
              <Form.Text>{school?.sentence}</Form.Text>
            </Form.Group>
          )}
          <div className="row">
            <Form.Group className="col mb-2" controlId="student-consent">
              <Form.Label>{t("Filming consent since")}</Form.Label>
              <Form.Control
                type="date"
                value={facts.consent_on ?? ""}
                onChange={(event) => change({ consent_on: event.target.value || null })}
              />
            </Form.Group>
            <Form.Group className="col mb-2" controlId="student-consent-until">
              <Form.Label>{t("until (if limited)")}</Form.Label>
              <Form.Control
                type="date"
                value={facts.consent_until ?? ""}
                onChange={(event) => change({ consent_until: event.target.value || null })}
              />
            </Form.Group>
            <Form.Group className="col mb-2" controlId="student-retain-until">
              <Form.Label>{t("Keep until")}</Form.Label>
              <Form.Control
                type="date"
                value={facts.retain_until ?? ""}
                onChange={(event) => change({ retain_until: event.target.value || null })}
              />
            </Form.Group>
          </div>
          <Form.Text>
            {t(
              "Without the parents' consent on file no clip of this student is accepted. After the keep-until date Sulvet asks you to delete everything.",
            )}
          </Form.Text>
        </Modal.Body>
        <DialogButtons cancel={close} busy={save.isPending} words={t("Save")} />
      </Form>
    </Modal>
  );
}
