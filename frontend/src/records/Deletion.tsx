/** The teacher's word, given once, that Sulvet deletes what is over. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useAgreeToDeletion, useRetention } from "../api/records";
import { day } from "../shared/format";
import { Refused } from "../shared/states";

export function Deletion() {
  const rule = useRetention();
  const agree = useAgreeToDeletion();
  const [chosen, setChosen] = useState<number | null>(null);
  if (!rule.data) return null;
  const { agreed_on, days } = rule.data;
  const warning = chosen ?? days;
  return (
    <section className="mt-5" aria-labelledby="deletion-title">
      <h2 id="deletion-title" className="h3">
        Deleting what is over
      </h2>
      <p>
        Without the parents&apos; consent clips are closed at once. Clips without consent, and
        students whose date &ldquo;kept until&rdquo; has passed, are listed in{" "}
        <em>Next for you</em>.{" "}
        {agreed_on
          ? `Since ${day(agreed_on)} Sulvet deletes them by itself after ${days} days of warning.`
          : "Nothing is deleted by itself until you agree to it here."}
      </p>
      <Form
        className="d-flex flex-wrap align-items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          agree.mutate(warning);
        }}
      >
        <Form.Group controlId="deletion-days">
          <Form.Label>Days of warning</Form.Label>
          <Form.Control
            type="number"
            min={7}
            max={365}
            required
            value={warning}
            onChange={(event) => setChosen(Number(event.target.value))}
          />
        </Form.Group>
        <Button
          type="submit"
          disabled={agree.isPending || (agreed_on !== null && warning === days)}
        >
          {agreed_on ? "Change the warning" : "Delete what is over after this warning"}
        </Button>
        {agreed_on && (
          <Button
            variant="outline-secondary"
            disabled={agree.isPending}
            onClick={() => agree.mutate(null)}
          >
            Delete nothing by itself
          </Button>
        )}
      </Form>
      <Refused error={agree.error} />
    </section>
  );
}
