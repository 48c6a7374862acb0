/** Photos instead of a clip: one of the mouth as it plays, and one of the relaxed face. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { keys } from "../api/keys";
import { sendPhotos, type TakeFacts } from "../api/upload";
import { counted } from "../shared/format";
import { Refused } from "../shared/states";
import { tell } from "../shared/toasts";
import { ViewField } from "./TakeFields";
import { t } from "../shared/words";

const KINDS = "image/*,.heic,.heif,.avif";

interface Props {
  student: number;
  first: TakeFacts["view"];
}

export function UploadPhotos(props: Props) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-3" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="h5">{t("Photos instead of a clip")}</summary>
      {open && <PhotosForm {...props} />}
    </details>
  );
}

function PhotosForm({ student, first }: Props) {
  const client = useQueryClient();
  const [view, setView] = useState(first);
  const [photos, setPhotos] = useState<File[]>([]);
  const [rest, setRest] = useState<File | null>(null);
  const [day, setDay] = useState("");
  const send = useMutation({
    mutationFn: () => sendPhotos(student, { photos, rest, view, day }),
    onSuccess: (made) => {
      setPhotos([]);
      setRest(null);
      tell(`${counted(made.length, "photo")} uploaded.`);
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
        send.mutate();
      }}
    >
      <p className="faint mb-2">
        {t(
          "What only movement shows, such as loose corners or the start, is not checked on a photo.",
        )}
      </p>
      <ViewField
        facts={{ view, purpose: "check", filmedOn: day, mirrored: false }}
        change={(part) => part.view && setView(part.view)}
      />
      <Refused error={send.error} />
      <Form.Group className="mb-2" controlId="photos-playing">
        <Form.Label className="mb-0">{t("Playing, one photo or several")}</Form.Label>
        <Form.Control
          key={`playing ${send.submittedAt}`}
          type="file"
          accept={KINDS}
          multiple
          required
          onChange={(event) =>
            setPhotos(Array.from((event.target as HTMLInputElement).files ?? []))
          }
        />
      </Form.Group>
      <Form.Group className="mb-2" controlId="photos-rest">
        <Form.Label className="mb-0">{t("Relaxed face, if there is one")}</Form.Label>
        <Form.Control
          key={`rest ${send.submittedAt}`}
          type="file"
          accept={KINDS}
          onChange={(event) => setRest((event.target as HTMLInputElement).files?.[0] ?? null)}
        />
        <Form.Text>{t("Without it, the student's own from another take is used.")}</Form.Text>
      </Form.Group>
      <Form.Group className="mb-2" controlId="photos-day">
        <Form.Label className="mb-0">{t("Taken on (empty: as the photo says)")}</Form.Label>
        <Form.Control
          type="date"
          value={day}
          onChange={(event) => setDay(event.target.value)}
        />
      </Form.Group>
      <Button
        type="submit"
        variant="outline-primary"
        disabled={photos.length === 0 || send.isPending}
      >
        {send.isPending ? t("Uploading…") : t("Upload photos")}
      </Button>
    </Form>
  );
}
