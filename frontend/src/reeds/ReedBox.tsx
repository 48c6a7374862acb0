/** A student's reeds in their slots: tap the one that was played today. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { CloseUpList } from "../closeups/CloseUpList";
import { useReedBox, useReedEdits, type Condition, type Reed } from "../api/reeds";
import { noon, shortDay, today } from "../shared/format";
import { Refused } from "../shared/states";
import { ReedShape } from "./ReedShape";

const WORDS: Record<Reed["status"], string> = {
  new: "break in",
  good: "good",
  soon: "replace soon",
  worn: "worn out",
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
        Reeds
      </h2>
      <Refused error={edits.add.error ?? edits.change.error ?? edits.played.error} />
      {next && (
        <p className="mb-2">
          Next: the one in <strong>slot {next.slot}</strong>. Wet it {soak_seconds} seconds
          first.
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
  const hours = (reed.minutes / 60).toFixed(1).replace(/\.0$/, "");
  return (
    <>
      <span className="slot-number">{reed.slot}</span>
      <ReedShape share={reed.share} status={reed.status} />
      <span className="figures">{reed.strength ? `strength ${reed.strength}` : ""}</span>
      <span className={reed.turn === null || reed.status === "soon" ? "lost" : "faint"}>
        {WORDS[reed.status]}
      </span>
      <span className="kicker">
        since {shortDay(noon(reed.opened_on))}, {hours} h played {reed.days}{" "}
        {reed.days === 1 ? "day" : "days"}
      </span>
      <Button
        size="sm"
        variant={reed.today ? "secondary" : "outline-primary"}
        aria-pressed={reed.today}
        aria-label={`Played today: slot ${reed.slot}`}
        title={`Counts ${usual} minutes`}
        onClick={() => play(reed.today ? 0 : null)}
      >
        {reed.today ? "Played today ✓" : "Played today"}
      </Button>
      <Form.Select
        size="sm"
        aria-label={`Condition of the reed in slot ${reed.slot}`}
        value={reed.condition}
        onChange={(event) => set(event.target.value as Condition)}
      >
        <option value="good">whole</option>
        <option value="chipped">chipped</option>
        <option value="warped">warped</option>
        <option value="retired">retire</option>
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
        aria-label="Strength of the new reed"
        placeholder="strength"
        value={given}
        onChange={(event) => setGiven(event.target.value)}
      />
      <Button type="submit" size="sm" variant="outline-primary">
        Add reed
      </Button>
    </Form>
  );
}
