/** Where an invitation leads: a new account, or the one that is logged in. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useNavigate } from "react-router";
import { useJoining } from "../api/people";
import { day } from "../shared/format";
import { Refused, Waiting } from "../shared/states";

export default function JoinScreen({ token }: { token: string }) {
  const { asked, join } = useJoining(token);
  const go = useNavigate();
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  if (asked.isPending) return <Waiting what="the invitation" />;
  const enter = (given: { username: string; password: string }) =>
    join.mutate(given, { onSuccess: () => void go("/") });
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
                enter({ username, password });
              }}
            >
              <Form.Group className="mb-3" controlId="join-name">
                <Form.Label>Name</Form.Label>
                <Form.Control
                  size="lg"
                  required
                  autoComplete="username"
                  value={username}
                  onChange={(event) => setUsername(event.target.value)}
                />
              </Form.Group>
              <Form.Group className="mb-4" controlId="join-password">
                <Form.Label>Password</Form.Label>
                <Form.Control
                  size="lg"
                  type="password"
                  required
                  minLength={8}
                  autoComplete="new-password"
                  value={password}
                  onChange={(event) => setPassword(event.target.value)}
                />
                <Form.Text>At least eight characters.</Form.Text>
              </Form.Group>
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
