/** One note: read, changed, taken away. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Note, useNotes } from "../api/records";
import { day } from "./format";
import { t } from "./words";

interface Props {
  note: Note;
  edits: ReturnType<typeof useNotes>;
  /** Where it belongs, before its words. */
  at?: React.ReactNode;
}

export function NoteLine({ note, edits, at }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  if (draft !== null)
    return (
      <Form
        className="border-top py-2"
        onSubmit={(event) => {
          event.preventDefault();
          edits.change.mutate(
            { id: note.id, text: draft },
            { onSuccess: () => setDraft(null) },
          );
        }}
      >
        <Form.Control
          as="textarea"
          rows={2}
          required
          autoFocus
          maxLength={2000}
          aria-label={t("Note")}
          value={draft}
          onChange={(event) => setDraft(event.target.value)}
        />
        <Button type="submit" size="sm" className="mt-2 me-2">
          {t("Save")}
        </Button>
        <Button
          size="sm"
          variant="outline-secondary"
          className="mt-2"
          onClick={() => setDraft(null)}
        >
          {t("Cancel")}
        </Button>
      </Form>
    );
  return (
    <div className="border-top py-1 note">
      {at}
      {note.by_student && <strong>{t("The student:")} </strong>}
      <span className="words">{note.text}</span>{" "}
      <span className="kicker text-nowrap">
        {day(note.written_on)}{" "}
        {!note.by_student && (
          <Button
            variant="link"
            size="sm"
            className="p-0 faint align-baseline me-1"
            onClick={() => setDraft(note.text)}
          >
            {t("edit")}
          </Button>
        )}
        <Button
          variant="link"
          size="sm"
          className="p-0 faint align-baseline"
          aria-label={t("remove “{{words}}”", { words: note.text.slice(0, 30) })}
          onClick={() => edits.remove.mutate(note.id)}
        >
          {t("remove")}
        </Button>
      </span>
    </div>
  );
}
