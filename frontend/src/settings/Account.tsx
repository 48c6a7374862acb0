/** The teacher's own account: another password, and logging out everywhere. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { api, data } from "../api/client";
import { keys } from "../api/keys";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

export function Account() {
  const client = useQueryClient();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = useMutation({
    mutationFn: () => data(api.PUT("/api/password/", { body: { old, new: fresh } })),
    onSuccess: () => {
      setOld("");
      setFresh("");
    },
  });
  const leave = useMutation({
    mutationFn: () => data(api.DELETE("/api/sessions/")),
    onSuccess: (session) => {
      client.clear();
      client.setQueryData(keys.session, session);
    },
  });
  return (
    <section aria-labelledby="account-title">
      <h2 id="account-title" className="h3">
        {t("Your account")}
      </h2>
      <Form
        className="d-flex flex-wrap align-items-end gap-3 mb-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate();
        }}
      >
        <Form.Group controlId="password-old">
          <Form.Label>{t("Current password")}</Form.Label>
          <Form.Control
            type="password"
            required
            autoComplete="current-password"
            value={old}
            onChange={(event) => setOld(event.target.value)}
          />
        </Form.Group>
        <Form.Group controlId="password-new">
          <Form.Label>{t("New password")}</Form.Label>
          <Form.Control
            type="password"
            required
            minLength={8}
            autoComplete="new-password"
            value={fresh}
            onChange={(event) => setFresh(event.target.value)}
          />
        </Form.Group>
        <Button type="submit" variant="outline-secondary" disabled={change.isPending}>
          {t("Change password")}
        </Button>
        <Button
          variant="outline-secondary"
          disabled={leave.isPending}
          onClick={() => leave.mutate()}
        >
          {t("Log out everywhere")}
        </Button>
      </Form>
      <Refused error={change.error ?? leave.error} />
      {change.isSuccess && (
        <p role="status">{t("Password changed. All other computers are logged out.")}</p>
      )}
    </section>
  );
}
