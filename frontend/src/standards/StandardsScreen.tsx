/** What is right on each instrument: zones on a drawing, figures with where they come from. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { NavLink, useParams } from "react-router";
import { useStandards } from "../api/queries";
import {
  useEffectOf,
  useOwnStandard,
  useSaveStandard,
  useZones,
  type Changes,
  type OwnStandard,
  type StandardBand,
} from "../api/standards";
import { day } from "../shared/format";
import { Refused, Trouble, Waiting } from "../shared/states";
import { BandRow } from "./BandRow";
import { ZoneDrawing } from "./ZoneDrawing";

export function StandardsScreen() {
  const instrument = useParams().instrument ?? "";
  const all = useStandards();
  if (all.isPending) return <Waiting what="the standards" />;
  if (all.isError) return <Trouble error={all.error} retry={() => void all.refetch()} />;
  const shown = instrument || (all.data[0]?.instrument ?? "");
  return (
    <main className="page standards">
      <nav aria-label="Instruments">
        <h1 className="h3">Standards</h1>
        <ul className="list-unstyled">
          {all.data.map((s) => (
            <li key={s.instrument}>
              <NavLink
                to={`/standards/${s.instrument}`}
                className={s.instrument === shown ? "fw-bold text-body" : undefined}
              >
                {s.name}
              </NavLink>
            </li>
          ))}
        </ul>
      </nav>
      <OneStandard key={shown} instrument={shown} />
    </main>
  );
}

function OneStandard({ instrument }: { instrument: string }) {
  const standard = useOwnStandard(instrument);
  if (standard.isPending) return <Waiting what="the standard" />;
  if (standard.isError)
    return <Trouble error={standard.error} retry={() => void standard.refetch()} />;
  return <EditStandard key={standard.data.version} standard={standard.data} />;
}

/** The figures that the teacher has changed already. */
function changesOf(standard: OwnStandard): Changes {
  return Object.fromEntries(
    standard.bands.filter((b) => b.changed).map((b) => [b.key, figuresOf(b)]),
  );
}

function figuresOf({ low, high, watch_low, watch_high }: StandardBand) {
  return { low, high, watch_low, watch_high };
}

function EditStandard({ standard }: { standard: OwnStandard }) {
  const { instrument } = standard;
  const [view, setView] = useState<"front" | "side">("front");
  const [school, setSchool] = useState(standard.schools[0]?.id ?? "");
  const [changes, setChanges] = useState(() => changesOf(standard));
  const [words, setWords] = useState("");
  const [told, setTold] = useState("");
  const zones = useZones({ instrument, bands: changes, school, view });
  const save = useSaveStandard(instrument);
  const edited = JSON.stringify(changes) !== JSON.stringify(changesOf(standard));
  const bands = standard.bands.filter(
    (b) => b.view === view && (b.schools.length === 0 || b.schools.includes(school)),
  );
  const sentence = standard.schools.find((s) => s.id === school)?.sentence;
  return (
    <section aria-labelledby="standard-title">
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-1">
        <h2 id="standard-title" className="mb-0">
          {standard.name}
        </h2>
        <span className="faint">version {standard.version.split(" ").pop()}</span>
        <span className="flex-fill" />
        <Form.Select
          aria-label="School"
          style={{ width: "auto" }}
          value={school}
          onChange={(event) => setSchool(event.target.value)}
        >
          {standard.schools.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </Form.Select>
        <div className="btn-group" role="group" aria-label="View">
          {(["front", "side"] as const).map((name) => (
            <Button
              key={name}
              variant="outline-secondary"
              aria-pressed={view === name}
              active={view === name}
              onClick={() => setView(name)}
            >
              {name}
            </Button>
          ))}
        </div>
      </div>
      <p className="faint">{sentence}</p>
      <div className="standard-columns">
        <div>
          {zones.data && (
            <ZoneDrawing
              instrument={instrument}
              body={{ bands: changes, school, view }}
              drawing={zones.data.drawing}
              onDragged={(bands, key) => {
                setChanges(bands);
                setTold(key);
              }}
            />
          )}
          <p className="kicker">
            Drag the edge of a zone, or change the figures. Nothing counts before it is saved.
          </p>
          <Outcome instrument={instrument} changes={changes} edited={edited} />
          {edited && (
            <Form
              className="d-flex flex-wrap gap-2 align-items-end"
              onSubmit={(event) => {
                event.preventDefault();
                save.mutate({ bands: changes, words });
              }}
            >
              <Form.Group controlId="version-words" className="flex-fill">
                <Form.Label className="mb-0">What is this version for?</Form.Label>
                <Form.Control
                  maxLength={200}
                  value={words}
                  onChange={(event) => setWords(event.target.value)}
                />
              </Form.Group>
              <Button type="submit" disabled={save.isPending}>
                Save
              </Button>
              <Button
                variant="outline-secondary"
                onClick={() => setChanges(changesOf(standard))}
              >
                Leave it
              </Button>
            </Form>
          )}
          <Refused error={save.error} />
          <Versions
            standard={standard}
            shipped={() => save.mutate({ bands: {}, words: "as shipped" })}
          />
        </div>
        <div>
          {bands.map((band) => (
            <BandRow
              key={band.key}
              band={band}
              figures={changes[band.key] ?? band.shipped}
              told={band.key === told}
              change={(figures) => {
                setTold("");
                setChanges({ ...changes, [band.key]: figures });
              }}
              reset={() => {
                const others = Object.entries(changes).filter(([key]) => key !== band.key);
                setChanges(Object.fromEntries(others));
              }}
            />
          ))}
          {bands.length === 0 && <p className="faint">No band from this side.</p>}
        </div>
      </div>
    </section>
  );
}

/** What would change, before it does. */
function Outcome({
  instrument,
  changes,
  edited,
}: {
  instrument: string;
  changes: Changes;
  edited: boolean;
}) {
  const effect = useEffectOf(instrument, changes);
  if (!edited) return null;
  if (effect.isError) return <Refused error={effect.error} />;
  if (!effect.data) return null;
  const { takes, readings, faults } = effect.data;
  return (
    <div role="status" className="finding">
      <strong>In your {takes} takes:</strong>{" "}
      {readings === 0
        ? "no reading changes its verdict."
        : `${readings} readings get another verdict.`}
      <ul className="mb-0">
        {faults.map((f) => (
          <li key={f.fault}>
            {f.name}: {f.came > 0 && `${f.came} more`}
            {f.came > 0 && f.went > 0 && ", "}
            {f.went > 0 && `${f.went} fewer`}
          </li>
        ))}
      </ul>
    </div>
  );
}

function Versions({ standard, shipped }: { standard: OwnStandard; shipped: () => void }) {
  if (standard.versions.length === 0) return null;
  return (
    <details className="finding">
      <summary>Your versions</summary>
      <ol className="list-unstyled mt-2 mb-2">
        {standard.versions.map((v) => (
          <li key={v.edition}>
            {v.edition}, {day(v.made_at.slice(0, 10))}:{" "}
            {v.bands === 0 ? "as shipped" : `${v.bands} bands`}
            {v.words && `, ${v.words}`}
          </li>
        ))}
      </ol>
      {standard.bands.some((b) => b.changed) && (
        <Button size="sm" variant="outline-secondary" onClick={shipped}>
          Back to the shipped standard
        </Button>
      )}
    </details>
  );
}
