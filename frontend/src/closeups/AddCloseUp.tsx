/** A photo of the reed is chosen, sent, and opened for marking. */
import { useRef } from "react";
import { Button } from "react-bootstrap";
import { useNavigate } from "react-router";
import { useAddCloseUp } from "../api/closeups";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

export function AddCloseUp({ student }: { student: number }) {
  const field = useRef<HTMLInputElement>(null);
  const go = useNavigate();
  const add = useAddCloseUp(student);
  return (
    <>
      <input
        ref={field}
        type="file"
        accept="image/*,video/*,.heic,.heif"
        aria-label={t("Photo or short clip of the reed")}
        className="d-none"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) add.mutate(file, { onSuccess: (page) => void go(`/close-ups/${page.id}`) });
          // The same file may be chosen again.
          if (field.current) field.current.value = "";
        }}
      />
      <Button
        className="text-nowrap"
        size="sm"
        variant="outline-primary"
        disabled={add.isPending}
        onClick={() => field.current?.click()}
      >
        {add.isPending ? t("Checking the photo …") : t("Photo of the reed")}
      </Button>
      <Refused error={add.error} />
    </>
  );
}
