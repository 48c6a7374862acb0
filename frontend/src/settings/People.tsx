/** Who may come in: substitutes for the own bands; for an administrator, accounts as well. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { usePeople, usePeopleEdits, type Account, type Invitation } from "../api/people";
import { day, today } from "../shared/format";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

export function People() {
  const people = usePeople();
  const { invite, end, set } = usePeopleEdits();
  const [until, setUntil] = useState("");
  if (!people.data) return null;
  const { administrator, school, accounts, invitations } = people.data;
  return (
    <section aria-labelledby="people-title">
      <h2 id="people-title" className="h3">
        {t("People")} {school && <span className="faint fs-6">{school}</span>}
      </h2>
      <p>
        {t(
          "A substitute sees your bands until the day you choose: films, reviews, marks. A substitute can't export, delete or change consent; what they open stands in your access log.",
        )}
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
          <Form.Label>{t("Last day")}</Form.Label>
          <Form.Control
            type="date"
            required
            min={today()}
            value={until}
            onChange={(event) => setUntil(event.target.value)}
          />
        </Form.Group>
        <Button type="submit" disabled={invite.isPending}>
          {t("Invite a substitute")}
        </Button>
        {administrator && (
          <Button
            variant="outline-secondary"
            disabled={invite.isPending}
            onClick={() => invite.mutate({ role: "teacher" })}
          >
            {t("Invite a teacher")}
          </Button>
        )}
      </Form>
      <ul className="list-unstyled invitations" aria-label={t("Invitations")}>
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
                {one.guest ? t("End now") : t("Withdraw")}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {administrator && (
        <>
          <h3 className="h5">{t("Accounts")}</h3>
          <div className="table-responsive">
            <table className="table figures">
              <thead>
                <tr>
                  <th scope="col">{t("Name")}</th>
                  <th scope="col">{t("Last login")}</th>
                  <th scope="col">{t("Second factor")}</th>
                  <th scope="col">{t("Administrator")}</th>
                  <th scope="col">{t("May log in")}</th>
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
    one.role === "teacher"
      ? t("A teacher")
      : t("A substitute until {{until}}", { until: day(one.until ?? "") });
  if (one.guest) return `${who}: ${one.guest}${one.over ? t(", over") : ""}`;
  return one.over
    ? t("{{who}}: not accepted", { who })
    : t("{{who}}. Send this address by {{expires_on}}:", {
        who,
        expires_on: day(one.expires_on),
      });
}

interface RowProps {
  account: Account;
  set: (account: Account) => void;
}

function AccountRow({ account, set }: RowProps) {
  return (
    <tr>
      <th scope="row">{account.name}</th>
      <td>{account.last_login ? day(account.last_login) : t("never")}</td>
      <td>{account.second_factor ? t("on") : t("off")}</td>
      <td>
        <Form.Check
          type="switch"
          aria-label={t("{{name}} is an administrator", { name: account.name })}
          checked={account.administrator}
          onChange={(event) => set({ ...account, administrator: event.target.checked })}
        />
      </td>
      <td>
        <Form.Check
          type="switch"
          aria-label={t("{{name}} may log in", { name: account.name })}
          checked={account.active}
          onChange={(event) => set({ ...account, active: event.target.checked })}
        />
      </td>
    </tr>
  );
}
