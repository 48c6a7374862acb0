import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { api, data } from "../api/client";
import { Refused } from "../shared/states";
import { keys } from "../api/keys";
import { CodeField, wantsCode } from "./CodeField";
import { Credentials } from "./Credentials";
import { t } from "../shared/words";

/** Log in; on a new installation the same form makes the first account. */
export function LoginScreen({ first, codeNeeded }: { first: boolean; codeNeeded: boolean }) {
  const client = useQueryClient();
  const [given, setGiven] = useState({ username: "", password: "" });
  const [code, setCode] = useState("");
  const enter = useMutation({
    mutationFn: () => {
      const body = { ...given, code };
      return data(
        first ? api.POST("/api/first-account/", { body }) : api.POST("/api/session/", { body }),
      );
    },
    onSuccess: (session) => client.setQueryData(keys.session, session),
  });
  return (
    <main className="page" style={{ maxWidth: "30rem", paddingTop: "12vh" }}>
      <title>{t("Sulvet")}</title>
      <h1 className="display-5 mb-1">{t("Sulvet")}</h1>
      <p className="faint mb-4">
        {first
          ? t("Welcome. Create your account. It stays on this computer, and so do all clips.")
          : t("Measures a beginner's mouth on video and names one thing to fix.")}
      </p>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          enter.mutate();
        }}
      >
        <Refused error={enter.error} />
        <Credentials given={given} set={setGiven} fresh={first} />
        {!first && (code !== "" || wantsCode(enter.error)) && (
          <CodeField id="second-code" code={code} set={setCode} />
        )}
        {codeNeeded && (
          <Form.Group className="mb-4" controlId="code">
            <Form.Label>{t("Code")}</Form.Label>
            <Form.Control
              size="lg"
              required
              autoComplete="one-time-code"
              value={code}
              onChange={(event) => setCode(event.target.value)}
            />
            <Form.Text>
              {t("Sulvet printed it when it was started, on the computer it runs on.")}
            </Form.Text>
          </Form.Group>
        )}
        <Button type="submit" size="lg" disabled={enter.isPending}>
          {first ? t("Create account") : t("Log in")}
        </Button>
      </Form>
    </main>
  );
}
