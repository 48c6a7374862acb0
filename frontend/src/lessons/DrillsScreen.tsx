/** All drills and routines: to read, to run with the class, to give to students. */
import { useState } from "react";
import { Form } from "react-bootstrap";
import { Link } from "react-router";
import { useBoard, useLibrary, type Routine } from "../api/lessons";
import { useStandards } from "../api/queries";
import { counted } from "../shared/format";
import { Trouble, Waiting } from "../shared/states";
import { DrillView } from "./DrillView";
import { GiveDrill } from "./GiveDrill";
import { t } from "../shared/words";

export default function DrillsScreen() {
  const library = useLibrary();
  const standards = useStandards();
  const [instrument, setInstrument] = useState("");
  const [find, setFind] = useState("");
  if (library.isPending) return <Waiting what={t("the drills")} />;
  if (library.isError)
    return <Trouble error={library.error} retry={() => void library.refetch()} />;
  const standard = standards.data?.find((one) => one.instrument === instrument);
  const fits = (words: string) => words.toLowerCase().includes(find.trim().toLowerCase());
  const routines = library.data.routines.filter(
    (one) =>
      (!standard || one.instruments.length === 0 || one.instruments.includes(instrument)) &&
      fits(`${one.name} ${one.about}`),
  );
  const drills = library.data.drills.filter(
    (one) =>
      (!standard || one.families.length === 0 || one.families.includes(standard.family)) &&
      fits(`${one.name} ${one.steps.join(" ")}`),
  );
  return (
    <main className="page lessons">
      <title>{t("Drills – Sulvet")}</title>
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-3">
        <h1 className="mb-0">{t("Drills")}</h1>
        <span className="flex-fill" />
        <Form.Control
          type="search"
          size="sm"
          className="w-auto"
          aria-label={t("Find a drill")}
          placeholder={t("Find a drill")}
          value={find}
          onChange={(event) => setFind(event.target.value)}
        />
        <Form.Select
          size="sm"
          className="w-auto"
          aria-label={t("Instrument")}
          value={instrument}
          onChange={(event) => setInstrument(event.target.value)}
        >
          <option value="">{t("All instruments")}</option>
          {standards.data?.map((one) => (
            <option key={one.instrument} value={one.instrument}>
              {one.name}
            </option>
          ))}
        </Form.Select>
      </div>
      <div className="drill-columns">
        <section aria-labelledby="routines-title">
          <h2 id="routines-title" className="h4">
            {t("Routines for a class")}
          </h2>
          {routines.map((one) => (
            <RoutineLine key={one.id} routine={one} />
          ))}
          {routines.length === 0 && <p className="faint">{t("None of this kind.")}</p>}
        </section>
        <section aria-labelledby="drills-title">
          <h2 id="drills-title" className="h4">
            {counted(drills.length, "drill")}
          </h2>
          {drills.map((one) => (
            <DrillView key={one.id} drill={one}>
              <Recipients what={{ drill: one.id }} instrument={instrument} />
            </DrillView>
          ))}
        </section>
      </div>
    </main>
  );
}

function RoutineLine({ routine }: { routine: Routine }) {
  const minutes = routine.parts.reduce((sum, part) => sum + part.drill.minutes, 0);
  return (
    <div className="finding py-2">
      <Link to={`/routines/${routine.id}`} className="serif fs-5">
        {routine.name}
      </Link>{" "}
      <span className="faint">
        {t("{{drill}}, about {{minute}}, at {{tempo}}", {
          drill: counted(routine.parts.length, "drill"),
          minute: counted(minutes, "minute"),
          tempo: routine.tempo,
        })}
      </span>
      <p className="mb-1">{routine.about}</p>
      <details>
        <summary className="faint">{t("Give to students")}</summary>
        <Recipients what={{ routine: routine.id }} instrument="" />
      </details>
    </div>
  );
}

/** Whom it is for: a section, or the whole band. */
function Recipients(props: { what: { drill?: string; routine?: string }; instrument: string }) {
  const board = useBoard();
  const [section, setSection] = useState("");
  if (!board.data) return null;
  const sections = [...new Set(board.data.rows.map((row) => row.section))];
  const students = board.data.rows
    .filter((row) => section === "*" || row.section === section)
    .map((row) => row.student);
  return (
    <div className="mt-2">
      <Form.Select
        size="sm"
        className="w-auto mb-2"
        aria-label={t("Give it to")}
        value={section}
        onChange={(event) => setSection(event.target.value)}
      >
        <option value="">{t("Give it to …")}</option>
        <option value="*">{t("the whole band")}</option>
        {sections.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </Form.Select>
      {students.length > 0 && <GiveDrill students={students} first={props.what} />}
    </div>
  );
}
