/** Deletion of clips without consent and of students kept long enough: only if turned on. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useAgreeToDeletion, useRetention } from "../api/records";
import { day } from "../shared/format";
import { Refused } from "../shared/states";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

export function Deletion() {
  const rule = useRetention();
  const agree = useAgreeToDeletion();
  const [chosen, setChosen] = useState<number | null>(null);
  if (!rule.data) return null;
  const { agreed_on, days, school_days } = rule.data;
  const warning = chosen ?? days;
  return (
    <section className="mt-5" aria-labelledby="deletion-title">
      <h2 id="deletion-title" className="h3">
        {t("Automatic deletion")}
      </h2>
      <p>
        <Rich
          text="When the parents' consent ends, clips are locked at once. Clips without consent and students past their keep-until date are listed in <em>Next for you</em>. {{automatic}}"
          values={{
            automatic: agreed_on
              ? t(
                  "Since {{agreed_on}} Sulvet deletes them {{days}} days after it first warns you.",
                  { agreed_on: day(agreed_on), days },
                )
              : t("Nothing is deleted automatically until you turn this on."),
          }}
          parts={{ em: <em /> }}
        />
      </p>
      {school_days !== null && (
        <p>
          {t(
            "Your school deletes them {{days}} days after the first warning, in all bands. You can choose fewer days for yours.",
            { days: school_days },
          )}
        </p>
      )}
      <Form
        className="d-flex flex-wrap align-items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          agree.mutate(warning);
        }}
      >
        <Form.Group controlId="deletion-days">
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
        <Button
          type="submit"
          disabled={agree.isPending || (agreed_on !== null && warning === days)}
        >
          {agreed_on ? t("Change days") : t("Turn on automatic deletion")}
        </Button>
        {agreed_on && (
          <Button
            variant="outline-secondary"
            disabled={agree.isPending}
            onClick={() => agree.mutate(null)}
          >
            {t("Turn off automatic deletion")}
          </Button>
        )}
      </Form>
      <Refused error={agree.error} />
    </section>
  );
}
