/** A finding of the teacher's own. */
import { phaseWords } from "../shared/phases";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { BenchPage } from "../api/client";
import { t } from "../shared/words";

interface Props {
  page: BenchPage;
  open: boolean;
  setOpen: (open: boolean) => void;
  add: (fault: string, phase: string, reason: string) => void;
}

export function AddFinding({ page, open, setOpen, add }: Props) {
  const [fault, setFault] = useState("");
  const [phase, setPhase] = useState("hold");
  const [reason, setReason] = useState("");
  if (!open)
    return (
      <div className="finding">
        <Button variant="outline-secondary" size="sm" onClick={() => setOpen(true)}>
          {t("Add your own finding")}
        </Button>
      </div>
    );
  return (
    <Form
      className="finding"
      aria-label={t("Add a finding")}
      onSubmit={(event) => {
        event.preventDefault();
        add(fault, phase, reason);
        setOpen(false);
      }}
    >
      <Form.Group controlId="own-fault" className="mb-2">
        <Form.Label>{t("What did you see?")}</Form.Label>
        <Form.Select
          autoFocus
          required
          value={fault}
          onChange={(event) => setFault(event.target.value)}
        >
          <option value="">{t("Choose …")}</option>
          {page.addable.map((f) => (
            <option key={f.fault} value={f.fault}>
              {f.name}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      <div className="d-flex gap-2 mb-2">
        <Form.Group controlId="own-phase" style={{ minWidth: "7.5rem" }}>
          <Form.Label>{t("In")}</Form.Label>
          <Form.Select value={phase} onChange={(event) => setPhase(event.target.value)}>
            {[...new Set(["hold", ...page.phases.map((p) => p.name)])].map((name) => (
              <option key={name} value={name}>
                {phaseWords(name)}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="own-reason" className="flex-fill">
          <Form.Label>{t("In your own words")}</Form.Label>
          <Form.Control
            maxLength={300}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        </Form.Group>
      </div>
      <Button type="submit" size="sm" className="me-2">
        {t("Add finding")}
      </Button>
      <Button size="sm" variant="outline-secondary" onClick={() => setOpen(false)}>
        {t("Cancel")}
      </Button>
    </Form>
  );
}
