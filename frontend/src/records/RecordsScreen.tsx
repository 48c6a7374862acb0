/** What can be taken out, and a whole band taken in. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import { useBand } from "../api/queries";
import { csrfToken, Refusal } from "../api/client";
import { useTakeInArchive } from "../api/records";
import { counted } from "../shared/format";
import { Refused } from "../shared/states";
import { Deletion } from "./Deletion";
import { t } from "../shared/words";

const OUT: [string, string, string][] = [
  ["/api/readings.csv", t("Readings"), t("Every measured value with its uncertainty (CSV).")],
  ["/api/findings.csv", t("Findings"), t("Every finding with your answer (CSV).")],
  [
    "/api/access-log.csv",
    t("Access log"),
    t("What this account opened, exported and deleted, by number, without names (CSV)."),
  ],
  [
    "/api/rechecks.ics",
    t("Rechecks"),
    t("All open rechecks for any calendar app (iCalendar)."),
  ],
];

/** Bytes of an archive that the browser may send. */
const LARGEST = 2 ** 31 - 1;

export default function RecordsScreen() {
  const band = useBand();
  const takeIn = useTakeInArchive();
  const [passphrase, setPassphrase] = useState("");
  const [file, setFile] = useState<File | null>(null);
  const chairs = band.data?.sections.reduce((sum, s) => sum + s.chairs.length, 0);
  return (
    <main className="page">
      <title>{t("Export and backup – Sulvet")}</title>
      <h1>{t("Export and backup")}</h1>
      <div className="row g-5">
        <section className="col-lg-6" aria-labelledby="out-title">
          <h2 id="out-title" className="h3">
            {t("Export")}
          </h2>
          <dl className="out">
            {OUT.map(([address, name, words]) => (
              <div key={address} className="border-top py-2">
                <dt>
                  <a href={address}>{name}</a>
                </dt>
                <dd className="mb-0">{words}</dd>
              </div>
            ))}
          </dl>
          <p className="kicker">
            {t(
              "Marks, full report and timed notes of a take are on its Bench; its drawing can be saved there as SVG.",
            )}
          </p>
        </section>
        <section className="col-lg-6" aria-labelledby="whole-title">
          <h2 id="whole-title" className="h3">
            {t("Back up the whole band")}
          </h2>
          <p>
            {t(
              "One file with everything: students, takes and clips, marks, findings, plans, notes and your standards, each part with a checksum. It contains pictures of children: keep it where only you can read it.",
            )}
          </p>
          <form method="post" action="/api/archive/encrypted.zip" className="mb-2">
            <input type="hidden" name="csrfmiddlewaretoken" value={csrfToken()} />
            <Form.Group controlId="passphrase-out" className="mb-2">
              <Form.Label>
                {t(
                  "Passphrase, at least 12 characters. Nobody can open the file without it, not even you.",
                )}
              </Form.Label>
              <Form.Control
                type="password"
                name="passphrase"
                autoComplete="new-password"
                minLength={12}
                maxLength={200}
                required
              />
            </Form.Group>
            <Button type="submit" disabled={chairs === 0}>
              {t("Back up, encrypted")}
            </Button>
          </form>
          <p>
            <a className={chairs === 0 ? "d-none" : undefined} href="/api/archive.zip">
              {t("Back up without a passphrase")}
            </a>
          </p>
          <h3 className="h4 mt-4">{t("Restore")}</h3>
          {chairs !== undefined && chairs > 0 ? (
            <p className="faint">
              {t(
                "This account already has students. A backup is restored into an empty account, so that nothing is mixed up: log out, and log in with an empty one.",
              )}
            </p>
          ) : (
            <Form
              onSubmit={(event) => {
                event.preventDefault();
                if (file) takeIn.mutate({ archive: file, passphrase, withoutConsent: false });
              }}
            >
              <Form.Group controlId="archive" className="mb-2">
                <Form.Label>{t("Backup file (up to 2 GB)")}</Form.Label>
                <Form.Control
                  type="file"
                  accept=".zip,application/zip"
                  required
                  onChange={(event) => {
                    takeIn.reset();
                    setFile((event.target as HTMLInputElement).files?.[0] ?? null);
                  }}
                />
              </Form.Group>
              <Form.Group controlId="passphrase-in" className="mb-2">
                <Form.Label>{t("Passphrase, if it has one")}</Form.Label>
                <Form.Control
                  type="password"
                  autoComplete="off"
                  value={passphrase}
                  onChange={(event) => setPassphrase(event.target.value)}
                />
              </Form.Group>
              {file && file.size > LARGEST && (
                <p className="lost">
                  {t(
                    "This file is larger than 2 GB. Whoever looks after Sulvet can restore it with: python -m sulvet restore FILE --account NAME.",
                  )}
                </p>
              )}
              <Button type="submit" disabled={!file || file.size > LARGEST || takeIn.isPending}>
                {takeIn.isPending ? t("Checking and restoring …") : t("Restore")}
              </Button>
            </Form>
          )}
          <div className="mt-3">
            <Refused error={takeIn.error} />
            {file && takeIn.error instanceof Refusal && takeIn.error.status === 409 && (
              <Button
                variant="outline-secondary"
                onClick={() =>
                  takeIn.mutate({ archive: file, passphrase, withoutConsent: true })
                }
              >
                {t("Restore with these clips locked")}
              </Button>
            )}
            {takeIn.data && (
              <p role="status" className="fs-5 serif">
                {t("Restored: {{student}} and {{take}}.", {
                  student: counted(takeIn.data.students, "student"),
                  take: counted(takeIn.data.takes, "take"),
                })}{" "}
                {takeIn.data.stayed.length > 0 &&
                  t("These settings of yours were kept: {{stayed}}. ", {
                    stayed: takeIn.data.stayed.join(", "),
                  })}
                <Link to="/">{t("Open the band")}</Link>
              </p>
            )}
          </div>
        </section>
      </div>
      <Deletion />
    </main>
  );
}
