/** A student's reeds in their slots: tap the one that was played today. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { CloseUpList } from "../closeups/CloseUpList";
import { useReedBox, useReedEdits, type Condition, type Reed } from "../api/reeds";
import { fixed, noon, shortDay, today } from "../shared/format";
import { Refused } from "../shared/states";
import { ReedShape } from "./ReedShape";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

const WORDS: Record<Reed["status"], string> = {
  new: t("break in"),
  good: "good",
  soon: t("replace soon"),
  worn: t("worn out"),
  chipped: "chipped",
  warped: "warped",
  retired: "retired",
};

export function ReedBox({ student }: { student: number }) {
  const box = useReedBox(student, true);
  const edits = useReedEdits(student);
  if (!box.data) return null;
  const { reeds, notes, soak_seconds, strength, a_day } = box.data;
  const next = reeds.find((reed) => reed.turn === 1);
  return (
    <section aria-labelledby="reeds-title" className="mb-4">
      <h2 id="reeds-title" className="h4">
        {t("Reeds")}
      </h2>
      <Refused error={edits.add.error ?? edits.change.error ?? edits.played.error} />
      {next && (
        <p className="mb-2">
          <Rich
            text="Next: the one in <strong>slot {{slot}}</strong>. Wet it {{soak_seconds}} seconds first."
            values={{ slot: next.slot, soak_seconds }}
            parts={{ strong: <strong /> }}
          />
        </p>
      )}
      <ul className="reed-box list-unstyled">
        {reeds.map((reed) => (
          <li key={reed.id} className={reed.turn === 1 ? "next" : undefined}>
            <Slot
              reed={reed}
              usual={a_day}
              play={(minutes) => edits.played.mutate({ id: reed.id, minutes })}
              set={(condition) =>
                edits.change.mutate({
                  id: reed.id,
                  strength: reed.strength,
                  opened_on: reed.opened_on,
                  condition,
                })
              }
            />
          </li>
        ))}
      </ul>
      <AddReed
        key={strength}
        strength={strength}
        add={(given) =>
          edits.add.mutate({ strength: given, opened_on: today(), condition: "good" })
        }
      />
      {notes.map((note) => (
        <p key={note} className="mb-1 mt-2 faint">
          {note}
        </p>
      ))}
      <CloseUpList student={student} />
    </section>
  );
}

interface SlotProps {
  reed: Reed;
  usual: number;
  play: (minutes: number | null) => void;
  set: (condition: Condition) => void;
}

function Slot({ reed, usual, play, set }: SlotProps) {
  const hours = fixed(reed.minutes / 60, 1).replace(/[.,]0$/, "");
  return (
    <>
      <span className="slot-number">{reed.slot}</span>
      <ReedShape share={reed.share} status={reed.status} />
      <span className="figures">
        {reed.strength ? t("strength {{strength}}", { strength: reed.strength }) : ""}
      </span>
      <span className={reed.turn === null || reed.status === "soon" ? "lost" : "faint"}>
        {WORDS[reed.status]}
      </span>
      <span className="kicker">
        {t("since {{opened_on}}, {{hours}} h played {{days}} {{unit}}", {
          opened_on: shortDay(noon(reed.opened_on)),
          hours,
          days: reed.days,
          unit: reed.days === 1 ? t("day") : t("days"),
        })}
      </span>
      <Button
        size="sm"
        variant={reed.today ? "secondary" : "outline-primary"}
        aria-pressed={reed.today}
        aria-label={t("Played today: slot {{slot}}", { slot: reed.slot })}
        title={t("Counts {{usual}} minutes", { usual })}
        onClick={() => play(reed.today ? 0 : null)}
      >
        {reed.today ? t("Played today ✓") : t("Played today")}
      </Button>
      <Form.Select
        size="sm"
        aria-label={t("Condition of the reed in slot {{slot}}", { slot: reed.slot })}
        value={reed.condition}
        onChange={(event) => set(event.target.value as Condition)}
      >
        <option value="good">{t("whole")}</option>
        <option value="chipped">{t("chipped")}</option>
        <option value="warped">{t("warped")}</option>
        <option value="retired">{t("retire")}</option>
      </Form.Select>
    </>
  );
}

function AddReed({ strength, add }: { strength: string; add: (strength: string) => void }) {
  const [given, setGiven] = useState(strength);
  return (
    <Form
      className="d-flex gap-2 align-items-center"
      onSubmit={(event) => {
        event.preventDefault();
        add(given);
      }}
    >
      <Form.Control
        size="sm"
        className="w-auto"
        maxLength={12}
        aria-label={t("Strength of the new reed")}
        placeholder={t("strength")}
        value={given}
        onChange={(event) => setGiven(event.target.value)}
      />
      <Button type="submit" size="sm" variant="outline-primary">
        {t("Add reed")}
      </Button>
    </Form>
  );
}
