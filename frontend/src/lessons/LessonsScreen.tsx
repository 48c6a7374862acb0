/** The band by ladder: who stands where, passed with one tap, several at once. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import { useBoard, useLadder, useMoves, type BoardRow } from "../api/lessons";
import { counted } from "../shared/format";
import { useCalled } from "../shared/projector";
import { Refused, Trouble, Waiting } from "../shared/states";
import { tell } from "../shared/toasts";
import { MoveButtons } from "./MoveButtons";
import { StepView } from "./StepView";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

export default function LessonsScreen() {
  const board = useBoard();
  const [section, setSection] = useState("");
  const [chosen, setChosen] = useState<readonly number[]>([]);
  if (board.isPending) return <Waiting what={t("the lessons")} />;
  if (board.isError) return <Trouble error={board.error} retry={() => void board.refetch()} />;
  const { steps, rows } = board.data;
  const sections = [...new Set(rows.map((row) => row.section))];
  const shown = rows.filter((row) => section === "" || row.section === section);
  const selected = shown.filter((row) => chosen.includes(row.student));
  const toggle = (id: number) =>
    setChosen(chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id]);
  const all = [...steps, { id: "", name: t("All steps passed") }];
  return (
    <main className="page lessons">
      <title>{t("Lessons – Sulvet")}</title>
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-2">
        <h1 className="mb-0">{t("First lessons")}</h1>
        <span className="faint">{t("Who is stuck longest stands first.")}</span>
        <span className="flex-fill" />
        <Form.Select
          size="sm"
          className="w-auto"
          aria-label={t("Section")}
          value={section}
          onChange={(event) => setSection(event.target.value)}
        >
          <option value="">{t("All sections")}</option>
          {sections.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </Form.Select>
      </div>
      {rows.length === 0 && (
        <p className="faint">
          <Rich
            text="No students yet. <a>Add them on the band page.</a>"
            parts={{ a: <Link to="/" /> }}
          />
        </p>
      )}
      <div className="lesson-columns">
        <ol className="rungs">
          {all.map((step, n) => {
            const here = shown.filter((row) => row.step === step.id);
            return (
              <li key={step.id} className={here.length === 0 ? "nobody" : undefined}>
                <div className="rung-name">
                  {step.id && <span className="figures faint">{n + 1}</span>}
                  <strong>{step.name}</strong>
                  {here.length > 1 && (
                    <Button
                      variant="link"
                      size="sm"
                      className="p-0"
                      onClick={() => setChosen(here.map((row) => row.student))}
                    >
                      {t("Select {{count}}", { count: here.length })}
                    </Button>
                  )}
                </div>
                <ul className="list-unstyled chips">
                  {here.map((row) => (
                    <Chip
                      key={row.student}
                      row={row}
                      on={chosen.includes(row.student)}
                      toggle={() => toggle(row.student)}
                    />
                  ))}
                </ul>
              </li>
            );
          })}
        </ol>
        <Aside selected={selected} clear={() => setChosen([])} />
      </div>
    </main>
  );
}

interface ChipProps {
  row: BoardRow;
  on: boolean;
  toggle: () => void;
}

function Chip({ row, on, toggle }: ChipProps) {
  const called = useCalled();
  const moves = useMoves();
  const students = [row.student];
  const pass = () =>
    moves.mutate(
      { students, do: "pass", heard: "" },
      {
        onSuccess: () =>
          tell(t("{{name}}: step passed.", { name: called(row.name) }), () =>
            moves.mutate({ students, do: "back", heard: "" }),
          ),
      },
    );
  return (
    <li className={`chip${on ? " on" : ""}`}>
      <button type="button" className="who" aria-pressed={on} onClick={toggle}>
        {called(row.name)}
        {row.days !== null && row.days > 0 && (
          <span className="figures faint"> {counted(row.days, "day")}</span>
        )}
        {row.heard && (
          <span className="no-sound"> {t("no sound: {{heard}}", { heard: row.heard })}</span>
        )}
        {row.ready && <span className="ready"> {row.ready}</span>}
      </button>
      {row.step && (
        <button
          type="button"
          className="pass"
          aria-label={t("{{name}}: passed", { name: row.name })}
          title={t("Passed")}
          disabled={moves.isPending}
          onClick={pass}
        >
          ✓
        </button>
      )}
      <Refused error={moves.error} />
    </li>
  );
}

/** What to do with those who are selected, and the card of the last one's step. */
function Aside({ selected, clear }: { selected: BoardRow[]; clear: () => void }) {
  const called = useCalled();
  const last = selected[selected.length - 1];
  const ladder = useLadder(last?.student ?? null);
  const step = ladder.data?.steps.find((one) => one.state === "now");
  if (!last)
    return (
      <aside className="faint">
        <p>
          {t(
            "Tap ✓ when a student has passed the step. Tap names to choose several, or to see what to do, say and look at.",
          )}
        </p>
      </aside>
    );
  return (
    <aside aria-label={t("Selected students")}>
      <div className="d-flex flex-wrap gap-2 align-items-baseline mb-2">
        <strong>
          {selected.length === 1
            ? called(last.name)
            : t("{{student}} selected", { student: counted(selected.length, "student") })}
        </strong>
        <Button variant="link" size="sm" className="p-0" onClick={clear}>
          {t("Clear")}
        </Button>
        <span className="flex-fill" />
        <Link to={`/lessons/${last.student}`}>
          {t("{{name}}: whole ladder", { name: called(last.name) })}
        </Link>
      </div>
      <MoveButtons rows={selected} moved={clear} />
      {step && (
        <div className="mt-3">
          <p className="kicker mb-1">{last.instrument}</p>
          <StepView step={step} />
        </div>
      )}
    </aside>
  );
}
