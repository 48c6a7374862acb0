/** Notes on a student; those of a take stand with the take's day. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import { useNotes, type StudentRecord } from "../api/records";
import { NoteLine } from "../shared/NoteLine";
import { fixed, noon, shortDay } from "../shared/format";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

interface Props {
  student: number;
  record: StudentRecord;
}

export function StudentNotes({ student, record }: Props) {
  const notes = useNotes(student);
  const [text, setText] = useState("");
  const days = new Map(record.takes.map((take) => [take.id, take.filmed_on]));
  return (
    <section aria-labelledby="notes-title" className="mb-4">
      <h2 id="notes-title" className="h4">
        {t("Notes")}
      </h2>
      <Refused error={notes.add.error ?? notes.change.error ?? notes.remove.error} />
      <Form
        className="mb-2"
        onSubmit={(event) => {
          event.preventDefault();
          notes.add.mutate(
            { text, take: null, seconds: null },
            { onSuccess: () => setText("") },
          );
        }}
      >
        <Form.Control
          as="textarea"
          rows={2}
          required
          maxLength={2000}
          aria-label={t("New note")}
          placeholder={t("Braces, a loose tooth, agreements with the parents …")}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <Button
          type="submit"
          size="sm"
          variant="outline-primary"
          className="mt-2"
          disabled={notes.add.isPending}
        >
          {t("Add note")}
        </Button>
      </Form>
      {record.notes.map((note) => {
        const filmed = note.take === null ? undefined : days.get(note.take);
        return (
          <NoteLine
            key={note.id}
            note={note}
            edits={notes}
            at={
              note.take !== null && (
                <Link to={`/takes/${note.take}`} className="figures me-2">
                  {filmed ? shortDay(noon(filmed)) : t("take")}
                  {note.seconds !== null && `, ${fixed(note.seconds, 1)} s`}
                </Link>
              )
            }
          />
        );
      })}
    </section>
  );
}
