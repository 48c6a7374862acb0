/** A button that asks for a file of text and hands its text on. */
import { useRef } from "react";
import { Button } from "react-bootstrap";

interface Props {
  label: string;
  accept: string;
  read: (text: string) => void;
}

export function FileButton({ label, accept, read }: Props) {
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={field}
        type="file"
        accept={accept}
        aria-label={label}
        className="d-none"
        onChange={async (event) => {
          const [file] = event.target.files ?? [];
          if (file) read(await file.text());
          // The same file may be chosen again.
          if (field.current) field.current.value = "";
        }}
      />
      <Button
        size="sm"
        variant="link"
        className="p-0 kicker"
        onClick={() => field.current?.click()}
      >
        {label}
      </Button>
    </>
  );
}
