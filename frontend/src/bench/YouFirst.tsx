/** What the teacher sees before the program says anything: findings and readings wait under it. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useSayFirst } from "../api/edits";
import type { BenchPage } from "../api/client";
import { storedSwitch } from "../shared/storedSwitch";
import { Refused } from "../shared/states";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

const youFirst = storedSwitch("sulvet-you-first");

/** Whether findings and readings of a take are covered still. */
export function useCovered(page: BenchPage): boolean {
  const on = youFirst.useIt();
  return on && page.take.state === "ready" && page.said_first === null;
}

export function YouFirstSwitch() {
  const on = youFirst.useIt();
  return (
    <Form.Check
      type="switch"
      id="you-first"
      className="kicker"
      label={t("You first: cover what Sulvet found until you have said what you see")}
      checked={on}
      onChange={(event) => youFirst.set(event.target.checked)}
    />
  );
}

/** In place of the margin. */
export function SayFirst({ page }: { page: BenchPage }) {
  const say = useSayFirst(page.take.id);
  const [seen, setSeen] = useState<string[]>([]);
  const toggle = (id: string) =>
    setSeen(seen.includes(id) ? seen.filter((one) => one !== id) : [...seen, id]);
  return (
    <aside className="margin" aria-label={t("What you see")}>
      <h2 className="h4">{t("What do you see?")}</h2>
      <p className="faint">{t("Sulvet's findings stand beside it once you have said so.")}</p>
      <Refused error={say.error} />
      <div className="d-flex flex-wrap gap-2 mb-3">
        {seen.length > 0 ? (
          <Button onClick={() => say.mutate({ faults: seen, untold: false })}>
            {t("That is what I see")}
          </Button>
        ) : (
          <>
            <Button onClick={() => say.mutate({ faults: [], untold: false })}>
              {t("Nothing to correct")}
            </Button>
            <Button
              variant="outline-primary"
              onClick={() => say.mutate({ faults: [], untold: true })}
            >
              {t("Can't be told from here")}
            </Button>
          </>
        )}
      </div>
      {page.sayable.map(({ fault, name }) => (
        <Form.Check
          key={fault}
          id={`seen-${fault}`}
          label={name}
          checked={seen.includes(fault)}
          onChange={() => toggle(fault)}
        />
      ))}
      <hr />
      <YouFirstSwitch />
    </aside>
  );
}

/** Both side by side, at the top of the findings. */
export function SaidFirst({ page }: { page: BenchPage }) {
  const first = page.said_first;
  if (!first) return null;
  const both = first.only_found.length === 0 && first.only_said.length === 0;
  return (
    <div className="finding" aria-label={t("You first")}>
      <p className="mb-1">
        <Rich
          text="You saw first: <strong>{{said}}</strong>."
          values={{ said: first.said }}
          parts={{ strong: <strong /> }}
        />{" "}
        {both && t("Sulvet says the same.")}
      </p>
      {first.only_found.length > 0 && (
        <p className="mb-1">
          {t("Sulvet found as well: {{only_found}}.", {
            only_found: first.only_found.join(", "),
          })}
        </p>
      )}
      {first.only_said.length > 0 && (
        <p className="mb-1">
          {t("Sulvet did not find: {{only_said}}. Look again, or add it as your own.", {
            only_said: first.only_said.join(", "),
          })}
        </p>
      )}
    </div>
  );
}
