/** Deleting something for good: asked once more, and with its name where much hangs on it. */
import { useState, type ReactNode } from "react";
import { Button, Form } from "react-bootstrap";
import { Rich } from "./Rich";
import { t } from "./words";

interface Props {
  /** What is deleted, as in “Delete this take”. */
  what: string;
  /** What goes with it. */
  children: ReactNode;
  /** To be written before it can be deleted. */
  name?: string;
  pending?: boolean;
  remove: () => void;
}

export function DeleteDialog({ what, children, name, pending = false, remove }: Props) {
  const [asking, ask] = useState(false);
  const [typed, type] = useState("");
  if (!asking)
    return (
      <Button
        variant="link"
        size="sm"
        className="p-0 faint"
        onClick={() => {
          type("");
          ask(true);
        }}
      >
        {t("Delete {{what}} …", { what })}
      </Button>
    );
  return (
    <Form
      role="alertdialog"
      aria-label={t("Delete {{what}}", { what: name ?? what })}
      onSubmit={(event) => {
        event.preventDefault();
        remove();
      }}
    >
      {name === undefined ? (
        <p>{children}</p>
      ) : (
        <Form.Group controlId="really" className="mb-2">
          <Form.Label>
            {children}{" "}
            <Rich
              text="Type the name to delete: <strong>{{name}}</strong>"
              values={{ name }}
              parts={{ strong: <strong /> }}
            />
          </Form.Label>
          <Form.Control
            autoFocus
            autoComplete="off"
            value={typed}
            onChange={(event) => type(event.target.value)}
          />
        </Form.Group>
      )}
      <Button
        type="submit"
        variant="danger"
        size="sm"
        className="me-2"
        autoFocus={name === undefined}
        disabled={(name !== undefined && typed.trim() !== name) || pending}
      >
        {t("Delete permanently")}
      </Button>
      <Button variant="outline-secondary" size="sm" onClick={() => ask(false)}>
        {t("Cancel")}
      </Button>
    </Form>
  );
}
