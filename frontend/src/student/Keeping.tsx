/** Consent, how long is kept, and deleting for good. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useNavigate } from "react-router";
import type { StudentPage } from "../api/client";
import { useDeleteStudent } from "../api/records";
import { counted, day, today } from "../shared/format";
import { Refused } from "../shared/states";

interface Props {
  student: StudentPage;
  edit: () => void;
}

export function Keeping({ student, edit }: Props) {
  const { id, name, consent_on, consent_until, retain_until, takes } = student;
  const remove = useDeleteStudent(id);
  const navigate = useNavigate();
  const [asking, ask] = useState(false);
  const [typed, type] = useState("");
  const over = retain_until !== null && retain_until < today();
  return (
    <section aria-labelledby="keeping-title">
      <h2 id="keeping-title" className="h4">
        Consent and keeping
      </h2>
      <dl className="facts">
        <dt>Consent to film</dt>
        <dd>
          {consent_on === null
            ? "none on file"
            : `since ${day(consent_on)}${consent_until ? `, until ${day(consent_until)}` : ""}`}
        </dd>
        <dt>Kept until</dt>
        <dd className={over ? "lost" : undefined}>
          {retain_until === null ? "no date set" : day(retain_until)}
          {over && ": the time is over"}
        </dd>
      </dl>
      <Refused error={remove.error} />
      {asking ? (
        <Form
          role="alertdialog"
          aria-label={`Delete ${name}`}
          onSubmit={(event) => {
            event.preventDefault();
            remove.mutate(undefined, { onSuccess: () => void navigate("/") });
          }}
        >
          <Form.Group controlId="really" className="mb-2">
            <Form.Label>
              {takes.length === 0
                ? "The student"
                : `The student, ${counted(takes.length, "take")}`}{" "}
              and all that was measured, planned and noted go for good. To delete, write the
              name: <strong>{name}</strong>
            </Form.Label>
            <Form.Control
              autoFocus
              autoComplete="off"
              value={typed}
              onChange={(event) => type(event.target.value)}
            />
          </Form.Group>
          <Button
            type="submit"
            variant="danger"
            size="sm"
            className="me-2"
            disabled={typed.trim() !== name || remove.isPending}
          >
            Delete for good
          </Button>
          <Button variant="outline-secondary" size="sm" onClick={() => ask(false)}>
            Keep
          </Button>
        </Form>
      ) : (
        <p>
          <Button variant="outline-secondary" size="sm" className="me-3" onClick={edit}>
            Change the dates
          </Button>
          <Button
            variant="link"
            size="sm"
            className="p-0 faint"
            onClick={() => {
              type("");
              ask(true);
            }}
          >
            Delete this student …
          </Button>
        </p>
      )}
    </section>
  );
}
