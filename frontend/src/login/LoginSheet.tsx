/** The password again, over the page: when a session has ended, nothing on it is lost. */
import { useEffect, useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { api, data, whenLoggedOut } from "../api/client";
import { Refused } from "../shared/states";
import { CodeField, wantsCode } from "./CodeField";
import { t } from "../shared/words";

export function LoginSheet({ username }: { username: string }) {
  const [done, setDone] = useState<(() => void) | null>(null);
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const [error, setError] = useState<Error | null>(null);
  useEffect(() => {
    whenLoggedOut(() => new Promise((resolve) => setDone(() => resolve)));
    return () => whenLoggedOut(null);
  }, []);
  if (!done) return null;
  return (
    <Modal
      show
      backdrop="static"
      keyboard={false}
      aria-labelledby="again-title"
      animation={false}
    >
      <Form
        onSubmit={async (event) => {
          event.preventDefault();
          try {
            await data(api.POST("/api/session/", { body: { username, password, code } }));
            setDone(null);
            setError(null);
            setPassword("");
            done();
          } catch (refused) {
            setError(refused as Error);
            // The password was right if only a code is wanted.
            if (!wantsCode(refused)) setPassword("");
          }
          setCode("");
        }}
      >
        <Modal.Header>
          <Modal.Title as="h2" id="again-title">
            {t("Log in again")}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <p>{t("Your session has ended. Nothing on this page is lost.")}</p>
          <Refused error={error} />
          <Form.Control type="hidden" autoComplete="username" value={username} readOnly />
          <Form.Group controlId="password-again">
            <Form.Label>{t("Password of {{username}}", { username })}</Form.Label>
            <Form.Control
              type="password"
              required
              autoFocus
              autoComplete="current-password"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
            />
          </Form.Group>
          {wantsCode(error) && <CodeField id="code-again" code={code} set={setCode} />}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-secondary" onClick={() => window.location.assign("/")}>
            {t("Log in as somebody else")}
          </Button>
          <Button type="submit">{t("Log in")}</Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
