/** Who may come in: substitutes for the own bands; for an administrator, accounts as well. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { usePeople, usePeopleEdits, type Account, type Invitation } from "../api/people";
import { day, today } from "../shared/format";
import { Refused } from "../shared/states";

export function People() {
  const people = usePeople();
  const { invite, end, set } = usePeopleEdits();
  const [until, setUntil] = useState("");
  if (!people.data) return null;
  const { administrator, accounts, invitations } = people.data;
  return (
    <section aria-labelledby="people-title">
      <h2 id="people-title" className="h3">
        People
      </h2>
      <p>
        A substitute sees your bands until the day you choose: films, reviews, marks. A
        substitute can&apos;t export, delete or change consent; what they open stands in your
        access log.
      </p>
      <Refused error={invite.error ?? end.error ?? set.error} />
      <Form
        className="d-flex flex-wrap align-items-end gap-3 mb-3"
        onSubmit={(event) => {
          event.preventDefault();
          invite.mutate({ role: "substitute", until });
        }}
      >
        <Form.Group controlId="substitute-until">
          <Form.Label>Last day</Form.Label>
          <Form.Control
            type="date"
            required
            min={today()}
            value={until}
            onChange={(event) => setUntil(event.target.value)}
          />
        </Form.Group>
        <Button type="submit" disabled={invite.isPending}>
          Invite a substitute
        </Button>
        {administrator && (
          <Button
            variant="outline-secondary"
            disabled={invite.isPending}
            onClick={() => invite.mutate({ role: "teacher" })}
          >
            Invite a teacher
          </Button>
        )}
      </Form>
      <ul className="list-unstyled invitations" aria-label="Invitations">
        {invitations.map((one) => (
          <li key={one.id} className={one.over ? "faint" : undefined}>
            <span>{described(one)}</span>
            {one.address && <a href={one.address}>{one.address}</a>}
            {!one.over && !(one.role === "teacher" && one.guest) && (
              <Button
                size="sm"
                variant="outline-secondary"
                disabled={end.isPending}
                onClick={() => end.mutate(one.id)}
              >
                {one.guest ? "End now" : "Withdraw"}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {administrator && (
        <>
          <h3 className="h5">Accounts</h3>
          <div className="table-responsive">
            <table className="table figures">
              <thead>
                <tr>
                  <th scope="col">Name</th>
                  <th scope="col">Last login</th>
                  <th scope="col">Second factor</th>
                  <th scope="col">Administrator</th>
                  <th scope="col">May log in</th>
                </tr>
              </thead>
              <tbody>
                {accounts.map((one) => (
                  <AccountRow
                    key={one.id}
                    account={one}
                    set={(changed) => set.mutate(changed)}
                  />
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </section>
  );
}

function described(one: Invitation): string {
  const who =
    one.role === "teacher" ? "A teacher" : `A substitute until ${day(one.until ?? "")}`;
  if (one.guest) return `${who}: ${one.guest}${one.over ? ", over" : ""}`;
  return one.over
    ? `${who}: not accepted`
    : `${who}. Send this address by ${day(one.expires_on)}:`;
}

interface RowProps {
  account: Account;
  set: (account: Account) => void;
}

function AccountRow({ account, set }: RowProps) {
  return (
    <tr>
      <th scope="row">{account.name}</th>
      <td>{account.last_login ? day(account.last_login) : "never"}</td>
      <td>{account.second_factor ? "on" : "off"}</td>
      <td>
        <Form.Check
          type="switch"
          aria-label={`${account.name} is an administrator`}
          checked={account.administrator}
          onChange={(event) => set({ ...account, administrator: event.target.checked })}
        />
      </td>
      <td>
        <Form.Check
          type="switch"
          aria-label={`${account.name} may log in`}
          checked={account.active}
          onChange={(event) => set({ ...account, active: event.target.checked })}
        />
      </td>
    </tr>
  );
}
