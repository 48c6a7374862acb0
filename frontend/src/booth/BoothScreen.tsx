/** The screen that is handed over to the students of a section: tap your name, film yourself. */
import { useCallback, useState } from "react";
import { Button, Form } from "react-bootstrap";
import {
  useBooth,
  useEndBooth,
  useLeaveBooth,
  type Booth,
  type BoothStudent,
} from "../api/booth";
import { Glyph } from "../shared/glyphs";
import { Refused, Waiting } from "../shared/states";
import { Filming } from "./Filming";
import { listed } from "../shared/format";
import { t } from "../shared/words";

export default function BoothScreen() {
  const booth = useBooth();
  const [chosen, choose] = useState<number | null>(null);
  const leave = useCallback(() => choose(null), []);
  if (booth.isPending) return <Waiting what={t("the booth")} />;
  if (booth.isError) return <Closed />;
  const student = booth.data.students.find((one) => one.id === chosen);
  return (
    <main className="booth">
      <title>{t("Film yourself – Sulvet")}</title>
      {student ? (
        <Filming booth={booth.data} student={student} leave={leave} />
      ) : (
        <Names booth={booth.data} choose={choose} />
      )}
    </main>
  );
}

function Closed() {
  const leave = useLeaveBooth();
  return (
    <main className="booth text-center py-5">
      <h1>{t("The booth is closed")}</h1>
      <p className="fs-4">{t("Call your teacher.")}</p>
      <Button onClick={() => leave.mutate()}>{t("To the login page")}</Button>
    </main>
  );
}

function Names({ booth, choose }: { booth: Booth; choose: (student: number) => void }) {
  const [ending, setEnding] = useState(false);
  return (
    <>
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-3">
        <h1 className="mb-0">{t("Tap your name")}</h1>
        <span className="fs-5 faint">{booth.section}</span>
        <span className="flex-fill" />
        <Button variant="outline-secondary" onClick={() => setEnding(true)}>
          {t("Teacher")}
        </Button>
      </div>
      {ending && <End cancel={() => setEnding(false)} />}
      <ul className="names">
        {booth.students.map((one) => (
          <li key={one.id}>
            <button type="button" disabled={one.why_not !== ""} onClick={() => choose(one.id)}>
              <span className="name">{one.name}</span>
              <Told student={one} />
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

/** What is there already, in words. */
function Told({ student }: { student: BoothStudent }) {
  const there = [student.front && "front", student.side && "side"].filter(
    (one) => typeof one === "string",
  );
  if (student.why_not) return <span>{student.why_not}</span>;
  if (there.length === 0) return <span className="faint">{t("not filmed yet")}</span>;
  return (
    <span>
      <Glyph shape="clear" /> {t("{{views}} filmed", { views: listed(there) })}
    </span>
  );
}

/** Only the teacher gets out of here. */
function End({ cancel }: { cancel: () => void }) {
  const end = useEndBooth();
  const [password, setPassword] = useState("");
  return (
    <Form
      className="d-flex flex-wrap gap-2 align-items-end mb-3"
      aria-label={t("End the booth")}
      onSubmit={(event) => {
        event.preventDefault();
        end.mutate(password);
      }}
    >
      <Form.Group controlId="booth-password">
        <Form.Label className="mb-0">{t("Your password, to end the booth")}</Form.Label>
        <Form.Control
          type="password"
          autoComplete="off"
          autoFocus
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
      </Form.Group>
      <Button type="submit" disabled={end.isPending}>
        {t("End the booth")}
      </Button>
      <Button variant="outline-secondary" onClick={cancel}>
        {t("Cancel")}
      </Button>
      <Refused error={end.error} />
    </Form>
  );
}
