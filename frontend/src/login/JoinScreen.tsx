/** Where an invitation leads: a new account, or the one that is logged in. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useNavigate } from "react-router";
import { useJoining } from "../api/people";
import { day } from "../shared/format";
import { Refused, Waiting } from "../shared/states";
import { Credentials, type NameAndPassword } from "./Credentials";
import { t } from "../shared/words";

export default function JoinScreen({ token }: { token: string }) {
  const { asked, join } = useJoining(token);
  const go = useNavigate();
  const [given, setGiven] = useState({ username: "", password: "" });
  if (asked.isPending) return <Waiting what={t("the invitation")} />;
  const enter = (account: NameAndPassword) =>
    join.mutate(account, { onSuccess: () => void go("/") });
  return (
    <main className="page joining" id="content">
      <title>{t("Invitation – Sulvet")}</title>
      {asked.isError ? (
        <>
          <h1>{t("This invitation does not work")}</h1>
          <p className="fs-5">{asked.error.message}</p>
        </>
      ) : (
        <>
          <h1>
            {asked.data.host
              ? t("{{host}} invites you", { host: asked.data.host })
              : t("You are invited to {{school}}", { school: asked.data.school })}
          </h1>
          <p className="fs-5">
            {asked.data.role === "teacher"
              ? t("Create an account, for a band of your own.")
              : t("You stand in until {{until}}: you see the bands of ", {
                  until: day(asked.data.until ?? ""),
                }) +
                t("{{host}}, film, review and mark. You can't export or delete anything.", {
                  host: asked.data.host,
                })}
          </p>
          <Refused error={join.error} />
          {asked.data.account && asked.data.role === "substitute" ? (
            <Button
              size="lg"
              disabled={join.isPending}
              onClick={() => enter({ username: "", password: "" })}
            >
              {t("Accept as {{account}}", { account: asked.data.account })}
            </Button>
          ) : (
            <Form
              onSubmit={(event) => {
                event.preventDefault();
                enter(given);
              }}
            >
              <Credentials given={given} set={setGiven} fresh />
              <Button type="submit" size="lg" disabled={join.isPending}>
                {t("Create account")}
              </Button>
              <p className="faint mt-3 mb-0">
                {t(
                  "You have an account here already? Log in first, then open this address again.",
                )}
              </p>
            </Form>
          )}
        </>
      )}
    </main>
  );
}
