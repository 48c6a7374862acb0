/** The teacher's notes on this take: at a moment, or on all of it. */
import { fixed } from "../shared/format";
import { useEffect, useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { BenchPage } from "../api/client";
import { useNotes, useRecord } from "../api/records";
import { FileButton } from "../shared/FileButton";
import { NoteLine } from "../shared/NoteLine";
import { Refused } from "../shared/states";
import { frameAt } from "./phases";
import { t } from "../shared/words";

interface Props {
  page: BenchPage;
  frame: number;
  goTo: (frame: number) => void;
  open: boolean;
  setOpen: (open: boolean) => void;
}

export function TakeNotes({ page, frame, goTo, open, setOpen }: Props) {
  const { take, times } = page;
  const record = useRecord(take.student);
  const notes = useNotes(take.student);
  const [text, setText] = useState("");
  const mine = (record.data?.notes ?? [])
    .filter((note) => note.take === take.id)
    .sort((a, b) => (a.seconds ?? -1) - (b.seconds ?? -1));
  const seconds = times[frame] ?? 0;
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (open) field.current?.focus();
  }, [open]);
  return (
    <details
      className="finding"
      open={open}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary>
        {t("Notes")}
        {mine.length > 0 && <span className="faint">: {mine.length}</span>}
      </summary>
      <Refused
        error={
          notes.add.error ?? notes.change.error ?? notes.remove.error ?? notes.takeOver.error
        }
      />
      {mine.map((note) => (
        <NoteLine
          key={note.id}
          note={note}
          edits={notes}
          at={
            note.seconds !== null && (
              <Button
                variant="link"
                size="sm"
                className="p-0 me-2 figures align-baseline"
                onClick={() => goTo(frameAt(times, note.seconds ?? 0))}
              >
                {fixed(note.seconds, 2)} s
              </Button>
            )
          }
        />
      ))}
      <Form
        className="mt-2"
        onSubmit={(event) => {
          event.preventDefault();
          notes.add.mutate({ text, take: take.id, seconds }, { onSuccess: () => setText("") });
        }}
      >
        <Form.Control
          ref={field}
          as="textarea"
          rows={2}
          required
          maxLength={2000}
          aria-label={t("Note at {{seconds}} seconds", { seconds: fixed(seconds, 2) })}
          placeholder={t("What you see or hear here")}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <Button type="submit" size="sm" className="mt-2" disabled={notes.add.isPending}>
          {t("Note at {{seconds}} s", { seconds: fixed(seconds, 2) })}
        </Button>
      </Form>
      <p className="kicker mt-2 mb-0">
        <a href={`/api/takes/${take.id}/notes.vtt`}>{t("Export timed notes")}</a>{" "}
        <FileButton
          label={t("Import from a file")}
          accept=".vtt,text/vtt"
          read={(file) => notes.takeOver.mutate({ take: take.id, text: file })}
        />
      </p>
    </details>
  );
}
