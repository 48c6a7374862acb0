/** Exercises a student was given without a fault: to tick, to do again, to take back. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useGiven, type GivenRow } from "../api/lessons";
import { counted, day, today } from "../shared/format";
import { Refused } from "../shared/states";
import { tell } from "../shared/toasts";
import { DrillView } from "./DrillView";
import { t } from "../shared/words";

export function Given({ given }: { given: GivenRow[] }) {
  const [all, showAll] = useState(false);
  const edits = useGiven();
  const running = given.filter((one) => one.running);
  const shown = all ? given : running;
  return (
    <section aria-labelledby="given-title">
      <h2 id="given-title" className="h4">
        {t("Exercises")}
      </h2>
      <Refused
        error={
          edits.tick.error ?? edits.again.error ?? edits.rise.error ?? edits.takeBack.error
        }
      />
      {shown.length === 0 && <p className="faint">{t("Nothing given at the moment.")}</p>}
      {shown.map((one) => (
        <Exercise key={one.id} one={one} edits={edits} />
      ))}
      {given.length > running.length && (
        <Button variant="link" className="p-0 mb-2" onClick={() => showAll(!all)}>
          {all
            ? t("Hide earlier ones")
            : t("{{count}} earlier", { count: given.length - running.length })}
        </Button>
      )}
    </section>
  );
}

function Exercise({ one, edits }: { one: GivenRow; edits: ReturnType<typeof useGiven> }) {
  const [why, setWhy] = useState<string | null>(null);
  const doneToday = one.done.includes(today());
  return (
    <div className="finding">
      <strong>{one.name}</strong>{" "}
      <span className="faint">
        {t("until {{until}}, done on {{done}}", {
          until: day(one.until),
          done: counted(one.done.length, "day"),
        })}

        {one.done_at_home.length > 0 &&
          t(", ticked by the student on {{done_at_home}}", {
            done_at_home: counted(one.done_at_home.length, "day"),
          })}
      </span>
      {one.about && <p className="mb-1">{one.about}</p>}
      {one.again && (
        <p className="mb-1">{t("Done again: “{{again}}”", { again: one.again })}</p>
      )}
      {one.drills.map((drill, n) => (
        <DrillView key={n} drill={drill} />
      ))}
      <div className="d-flex flex-wrap gap-2 mt-1">
        {one.running && (
          <Button
            size="sm"
            variant="outline-secondary"
            aria-pressed={doneToday}
            onClick={() => edits.tick.mutate({ id: one.id, date: today(), done: !doneToday })}
          >
            {doneToday ? t("Done today ✓") : t("Done today")}
          </Button>
        )}
        {one.rises && (
          <Button
            size="sm"
            onClick={() =>
              edits.rise.mutate(one.id, {
                onSuccess: () => tell(t("Next level: {{rises}}.", { rises: one.rises })),
              })
            }
          >
            {t("Next level: {{rises}}", { rises: one.rises })}
          </Button>
        )}
        <Button size="sm" variant="link" className="p-0" onClick={() => setWhy("")}>
          {t("Do it again")}
        </Button>
        <Button
          size="sm"
          variant="link"
          className="p-0 faint"
          onClick={() =>
            edits.takeBack.mutate(one.id, { onSuccess: () => tell(t("Exercise removed.")) })
          }
        >
          {t("Remove")}
        </Button>
      </div>
      {why !== null && (
        <Form
          className="d-flex gap-2 mt-2"
          onSubmit={(event) => {
            event.preventDefault();
            edits.again.mutate({ id: one.id, why }, { onSuccess: () => setWhy(null) });
          }}
        >
          <Form.Control
            size="sm"
            required
            autoFocus
            maxLength={200}
            aria-label={t("Why it is done again, in a sentence")}
            placeholder={t("Why? One sentence")}
            value={why}
            onChange={(event) => setWhy(event.target.value)}
          />
          <Button type="submit" size="sm">
            {t("Again")}
          </Button>
        </Form>
      )}
    </div>
  );
}
