/** After how many days of warning Sulvet deletes by itself what is over; and whether it does. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { t } from "./words";

interface Props {
  /** Of the field, on this page. */
  id: string;
  on: boolean;
  days: number;
  busy: boolean;
  /** What the buttons say that turn it on and off. */
  words: { on: string; off: string };
  /** So many days; null turns it off. */
  agree: (days: number | null) => void;
}

export function WarningForm({ id, on, days, busy, words, agree }: Props) {
  const [chosen, setChosen] = useState<number | null>(null);
  const warning = chosen ?? days;
  return (
    <Form
      className="d-flex flex-wrap align-items-end gap-3 mb-3"
      onSubmit={(event) => {
        event.preventDefault();
        agree(warning);
      }}
    >
      <Form.Group controlId={id}>
        <Form.Label>{t("Days of warning")}</Form.Label>
        <Form.Control
          type="number"
          min={7}
          max={365}
          required
          value={warning}
          onChange={(event) => setChosen(Number(event.target.value))}
        />
      </Form.Group>
      <Button type="submit" disabled={busy || (on && warning === days)}>
        {on ? t("Change days") : words.on}
      </Button>
      {on && (
        <Button variant="outline-secondary" disabled={busy} onClick={() => agree(null)}>
          {words.off}
        </Button>
      )}
    </Form>
  );
}
