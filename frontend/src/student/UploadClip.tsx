/** Sending a clip. Once it has arrived the teacher may leave: the worker goes on. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { Button, Form, ProgressBar } from "react-bootstrap";
import { sendClip, type ClipFacts } from "../api/upload";
import { today } from "../shared/format";
import { Refused } from "../shared/states";
import { keys } from "../api/keys";

interface Props {
  student: number;
  /** The side that tells most of this instrument. */
  first: ClipFacts["view"];
}

export function UploadClip({ student, first }: Props) {
  const client = useQueryClient();
  const id = useId();
  const [clip, setClip] = useState<File | null>(null);
  const [view, setView] = useState(first);
  const [purpose, setPurpose] = useState<ClipFacts["purpose"]>("check");
  const [filmedOn, setFilmedOn] = useState(today);
  const [mirrored, setMirrored] = useState(false);
  const [share, setShare] = useState(0);
  const send = useMutation({
    mutationFn: (facts: ClipFacts) => sendClip(student, facts, setShare),
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
        send.mutate({ clip, view, purpose, filmedOn, mirrored });
      }}
    >
      <h2 className="h4">Upload a clip</h2>
      <Form.Group className="mb-2" role="radiogroup" aria-label="View">
        {(["front", "side"] as const).map((name) => (
          <Form.Check
            inline
            key={name}
            type="radio"
            name={`${id}-view`}
            id={`${id}-${name}`}
            label={name === "front" ? "From the front" : "From the side"}
            checked={view === name}
            onChange={() => setView(name)}
          />
        ))}
      </Form.Group>
      <p className="faint">
        {view === "front"
          ? "Nose, mouth and chin in the picture, and the eyes if possible."
          : "Nose, lips and chin in profile, in front of a plain wall clearly lighter or darker than the skin."}{" "}
        First one or two seconds of a relaxed face, then form the shape, play and hold a note.
      </p>
      <Refused error={send.error} />
      <Form.Group className="mb-2" controlId={`${id}-clip`}>
        <Form.Label>Video from the phone (mp4, mov, webm)</Form.Label>
        <Form.Control
          // A new key empties the field once the clip is sent.
          key={send.submittedAt}
          type="file"
          accept="video/*,.mp4,.mov,.m4v,.webm,.mkv,.3gp,.avi"
          required
          onChange={(event) => {
            send.reset();
            setClip((event.target as HTMLInputElement).files?.[0] ?? null);
          }}
        />
      </Form.Group>
      <div className="row">
        <Form.Group className="col mb-2" controlId={`${id}-day`}>
          <Form.Label>Filmed on</Form.Label>
          <Form.Control
            type="date"
            required
            value={filmedOn}
            max={today()}
            onChange={(event) => setFilmedOn(event.target.value)}
          />
        </Form.Group>
        <Form.Group className="col mb-2" controlId={`${id}-purpose`}>
          <Form.Label>For</Form.Label>
          <Form.Select
            value={purpose}
            onChange={(event) => setPurpose(event.target.value as ClipFacts["purpose"])}
          >
            <option value="check">First check</option>
            <option value="recheck">Recheck</option>
          </Form.Select>
        </Form.Group>
      </div>
      <Form.Check
        className="mb-3"
        id={`${id}-mirrored`}
        label="Mirrored (selfie) video"
        checked={mirrored}
        onChange={(event) => setMirrored(event.target.checked)}
      />
      {send.isPending ? (
        <div className="progress-line" role="status">
          <ProgressBar
            now={share * 100}
            label={`${Math.round(share * 100)} % uploaded`}
            visuallyHidden
          />
          <span>
            {share < 1 ? `${Math.round(share * 100)} % uploaded` : "Checking the clip …"}
          </span>
        </div>
      ) : (
        <Button type="submit" size="lg" disabled={!clip}>
          Upload clip
        </Button>
      )}
    </Form>
  );
}
