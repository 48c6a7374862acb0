/** Name and password: of an account that is there, or of one that is made. */
import { Form } from "react-bootstrap";
import { t } from "../shared/words";

export interface NameAndPassword {
  username: string;
  password: string;
}

interface Props {
  given: NameAndPassword;
  set: (given: NameAndPassword) => void;
  /** An account is made by it. */
  fresh: boolean;
}

export function Credentials({ given, set, fresh }: Props) {
  return (
    <>
      <Form.Group className="mb-3" controlId="username">
        <Form.Label>{t("Name")}</Form.Label>
        <Form.Control
          size="lg"
          autoFocus
          required
          autoComplete="username"
          value={given.username}
          onChange={(event) => set({ ...given, username: event.target.value })}
        />
      </Form.Group>
      <Form.Group className="mb-4" controlId="password">
        <Form.Label>{t("Password")}</Form.Label>
        <Form.Control
          size="lg"
          type="password"
          required
          autoComplete={fresh ? "new-password" : "current-password"}
          value={given.password}
          onChange={(event) => set({ ...given, password: event.target.value })}
        />
        {fresh && <Form.Text>{t("At least eight characters.")}</Form.Text>}
      </Form.Group>
    </>
  );
}
