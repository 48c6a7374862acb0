/** The code of an authenticator app, once the password was right. */
import { Form } from "react-bootstrap";
import { Refusal } from "../api/client";
import { t } from "../shared/words";

/** Whether an answer to the password asks for a code as well. */
export function wantsCode(error: unknown): boolean {
  return error instanceof Refusal && error.code === "code-wanted";
}

interface Props {
  id: string;
  code: string;
  set: (code: string) => void;
}

export function CodeField({ id, code, set }: Props) {
  return (
    <Form.Group className="mb-4" controlId={id}>
      <Form.Label>{t("Code")}</Form.Label>
      <Form.Control
        size="lg"
        required
        autoFocus
        inputMode="text"
        autoComplete="one-time-code"
        value={code}
        onChange={(event) => set(event.target.value)}
      />
      <Form.Text>{t("From your authenticator app, or one of your codes on paper.")}</Form.Text>
    </Form.Group>
  );
}
