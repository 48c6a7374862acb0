/** Student, view, date and mirror of a clip that has been uploaded already. */
import { useState } from "react";
import { Form, Modal } from "react-bootstrap";
import type { TakeSummary } from "../api/client";
import { useBand, useCorrectTake } from "../api/queries";
import type { TakeFacts } from "../api/upload";
import { DialogButtons } from "../shared/DialogButtons";
import { Refused } from "../shared/states";
import { tell } from "../shared/toasts";
import { DayAndMirrorFields, ViewField } from "./TakeFields";
import { t } from "../shared/words";

export function CorrectTake({ take, close }: { take: TakeSummary; close: () => void }) {
  const band = useBand();
  const save = useCorrectTake(take);
  const [student, setStudent] = useState(take.student);
  const [facts, setFacts] = useState<TakeFacts>({
    view: take.view,
    purpose: take.purpose,
    filmedOn: take.filmed_on,
    mirrored: take.mirrored,
  });
  const change = (part: Partial<TakeFacts>) => setFacts((now) => ({ ...now, ...part }));
  const turned = facts.view !== take.view;
  const again = turned || facts.mirrored !== take.mirrored || student !== take.student;
  return (
    <Modal show onHide={close} aria-labelledby="correct-title" animation={false}>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(
            { student, ...facts },
            {
              onSuccess: () => {
                tell(again ? t("Saved. Sulvet analyses the take again.") : t("Saved."));
                close();
              },
            },
          );
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="correct-title">
            {t("Edit take")}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Refused error={save.error} />
          <p className="faint figures">{take.original_name}</p>
          <Form.Group className="mb-3" controlId="correct-student">
            <Form.Label>{t("Student")}</Form.Label>
            <Form.Select
              value={student}
              onChange={(event) => setStudent(Number(event.target.value))}
            >
              {band.data?.sections.map((section) => (
                <optgroup key={section.id} label={section.name}>
                  {section.chairs.map((chair) => (
                    <option key={chair.id} value={chair.id}>
                      {chair.name}
                    </option>
                  ))}
                </optgroup>
              ))}
            </Form.Select>
          </Form.Group>
          <ViewField facts={facts} change={change} />
          <DayAndMirrorFields facts={facts} change={change} />
          {again && (
            <p className="mb-0" role="status">
              {t("Sulvet analyses the take again.")}{" "}
              {turned &&
                t("Marks you placed on it are removed: they belong to the other view.")}
            </p>
          )}
        </Modal.Body>
        <DialogButtons cancel={close} busy={save.isPending} words={t("Save")} />
      </Form>
    </Modal>
  );
}
