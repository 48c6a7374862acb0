/** Where an invitation leads: a new account, or the one that is logged in. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useNavigate } from "react-router";
import { useJoining } from "../api/people";
import { day } from "../shared/format";
import { Refused, Waiting } from "../shared/states";
import { Credentials, type NameAndPassword } from "./Credentials";

export default function JoinScreen({ token }: { token: string }) {
  const { asked, join } = useJoining(token);
  const go = useNavigate();
  const [given, setGiven] = useState({ username: "", password: "" });
  if (asked.isPending) return <Waiting what="the invitation" />;
  const enter = (account: NameAndPassword) =>
    join.mutate(account, { onSuccess: () => void go("/") });
  return (
    <main className="page joining" id="content">
      <title>Invitation – Sulvet</title>
      {asked.isError ? (
        <>
          <h1>This invitation does not work</h1>
          <p className="fs-5">{asked.error.message}</p>
        </>
      ) : (
        <>
          <h1>{asked.data.host} invites you</h1>
          <p className="fs-5">
            {asked.data.role === "teacher"
              ? "Create an account, for a band of your own."
              : `You stand in until ${day(asked.data.until ?? "")}: you see the bands of ` +
                `${asked.data.host}, film, review and mark. You can't export or delete anything.`}
          </p>
          <Refused error={join.error} />
          {asked.data.account && asked.data.role === "substitute" ? (
            <Button
              size="lg"
              disabled={join.isPending}
              onClick={() => enter({ username: "", password: "" })}
            >
              Accept as {asked.data.account}
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
                Create account
              </Button>
              <p className="faint mt-3 mb-0">
                You have an account here already? Log in first, then open this address again.
              </p>
            </Form>
          )}
        </>
      )}
    </main>
  );
}
