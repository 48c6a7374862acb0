/** Sending a clip. Once it has arrived the teacher may leave: the worker goes on. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { Button, Form, ProgressBar } from "react-bootstrap";
import { sendClip, type ClipFacts, type TakeFacts } from "../api/upload";
import { dayOfClip } from "../clips/recordedOn";
import { today } from "../shared/format";
import { Refused } from "../shared/states";
import { keys } from "../api/keys";
import { DayAndMirrorFields, ViewField } from "./TakeFields";
import { t } from "../shared/words";

interface Props {
  student: number;
  /** The side that tells most of this instrument. */
  first: TakeFacts["view"];
}

export function UploadClip({ student, first }: Props) {
  const client = useQueryClient();
  const id = useId();
  const [clip, setClip] = useState<File | null>(null);
  const [facts, setFacts] = useState<TakeFacts>({
    view: first,
    purpose: "check",
    filmedOn: today(),
    mirrored: false,
  });
  const change = (part: Partial<TakeFacts>) => setFacts((now) => ({ ...now, ...part }));
  const [share, setShare] = useState(0);
  const send = useMutation({
    mutationFn: (sent: ClipFacts) => sendClip(student, sent, setShare),
    onSuccess: () => {
      setClip(null);
      return Promise.all([
        client.invalidateQueries({ queryKey: keys.student(student) }),
        client.invalidateQueries({ queryKey: keys.band }),
      ]);
    },
  });
  return (
    <Form
      onSubmit={(event) => {
        event.preventDefault();
        if (!clip) return;
        setShare(0);
        send.mutate({ clip, ...facts });
      }}
    >
      <h2 className="h4">{t("Upload a clip")}</h2>
      <ViewField facts={facts} change={change} />
      <p className="faint">
        {t(
          "{{framing}} First one or two seconds of a relaxed face, then form the shape, play and hold a note.",
          {
            framing:
              facts.view === "front"
                ? t("Nose, mouth and chin in the picture, and the eyes if possible.")
                : t(
                    "Nose, lips and chin in profile, in front of a plain wall clearly lighter or darker than the skin.",
                  ),
          },
        )}
      </p>
      <Refused error={send.error} />
      <Form.Group className="mb-2" controlId={`${id}-clip`}>
        <Form.Label>{t("Video from the phone (mp4, mov, webm)")}</Form.Label>
        <Form.Control
          // A new key empties the field once the clip is sent.
          key={send.submittedAt}
          type="file"
          accept="video/*,.mp4,.mov,.m4v,.webm,.mkv,.3gp,.avi"
          required
          onChange={(event) => {
            send.reset();
            const file = (event.target as HTMLInputElement).files?.[0] ?? null;
            setClip(file);
            if (file) void dayOfClip(file).then((filmedOn) => change({ filmedOn }));
          }}
        />
      </Form.Group>
      <DayAndMirrorFields facts={facts} change={change} />
      {send.isPending ? (
        <div className="progress-line" role="status">
          <ProgressBar
            now={share * 100}
            label={t("{{share}} % uploaded", { share: Math.round(share * 100) })}
            visuallyHidden
          />
          <span>
            {share < 1
              ? t("{{share}} % uploaded", { share: Math.round(share * 100) })
              : t("Checking the clip …")}
          </span>
        </div>
      ) : (
        <Button type="submit" size="lg" disabled={!clip}>
          {t("Upload clip")}
        </Button>
      )}
    </Form>
  );
}
