/** A second factor: an authenticator app beside the password. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useSecondFactor, useSecondFactorEdits } from "../api/people";
import { counted } from "../shared/format";
import { Refused } from "../shared/states";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

export function SecondFactor() {
  const state = useSecondFactor();
  const { begin, confirm, end } = useSecondFactorEdits();
  const [code, setCode] = useState("");
  const [password, setPassword] = useState("");
  if (!state.data) return null;
  const codes = confirm.data?.codes;
  return (
    <section aria-labelledby="factor-title">
      <h2 id="factor-title" className="h3">
        {t("Second factor")}
      </h2>
      <Refused error={begin.error ?? confirm.error ?? end.error} />
      {codes && (
        <div role="status">
          <p className="fs-5 mb-1">
            {t(
              "It is on. Write these codes down now; each works once, when the phone is not at hand:",
            )}
          </p>
          <p className="paper-codes">
            {codes.map((one) => (
              <code key={one}>{one}</code>
            ))}
          </p>
        </div>
      )}
      {state.data.on ? (
        <>
          <p>
            {t(
              "Logging in asks for a code of your authenticator app. {{code}} on paper left.",
              { code: counted(state.data.on_paper, "code") },
            )}
          </p>
          <Form
            className="d-flex flex-wrap align-items-end gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              end.mutate(password, {
                onSuccess: () => {
                  setPassword("");
                  confirm.reset();
                  begin.reset();
                },
              });
            }}
          >
            <Form.Group controlId="factor-password">
              <Form.Label>{t("Current password")}</Form.Label>
              <Form.Control
                type="password"
                required
                autoComplete="current-password"
                value={password}
                onChange={(event) => setPassword(event.target.value)}
              />
            </Form.Group>
            <Button type="submit" variant="outline-secondary" disabled={end.isPending}>
              {t("Turn the second factor off")}
            </Button>
          </Form>
        </>
      ) : begin.data ? (
        <div className="begin-factor">
          <img src={begin.data.qr} alt={t("QR code for your authenticator app")} />
          <div>
            <p className="mb-1">
              <Rich
                text="Scan this with an authenticator app, or type there: <code>{{secret}}</code>"
                values={{ secret: begin.data.secret }}
                parts={{ code: <code /> }}
              />
            </p>
            <Form
              className="d-flex flex-wrap align-items-end gap-3"
              onSubmit={(event) => {
                event.preventDefault();
                confirm.mutate(code, { onSuccess: () => setCode("") });
              }}
            >
              <Form.Group controlId="factor-code">
                <Form.Label>{t("The code it shows")}</Form.Label>
                <Form.Control
                  required
                  inputMode="numeric"
                  autoComplete="one-time-code"
                  value={code}
                  onChange={(event) => setCode(event.target.value)}
                />
              </Form.Group>
              <Button type="submit" disabled={confirm.isPending}>
                {t("Turn on")}
              </Button>
            </Form>
          </div>
        </div>
      ) : (
        <>
          <p>
            {t(
              "With a second factor, a password alone lets nobody in: an authenticator app on your phone shows a code as well.",
            )}
          </p>
          <Button
            variant="outline-secondary"
            disabled={begin.isPending}
            onClick={() => begin.mutate()}
          >
            {t("Set up a second factor")}
          </Button>
        </>
      )}
    </section>
  );
}
