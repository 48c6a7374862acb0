/** What is right on each instrument: zones on a drawing, figures with where they come from. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link, NavLink, useParams } from "react-router";
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
import { day, figure, pitchName } from "../shared/format";
import { Refused, Trouble, Waiting } from "../shared/states";
import { tell } from "../shared/toasts";
import { BandRow } from "./BandRow";
import { useDraft } from "./draft";
import { Shared } from "./Shared";
import { ZoneDrawing } from "./ZoneDrawing";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

export default function StandardsScreen() {
  const instrument = useParams().instrument ?? "";
  const all = useStandards();
  if (all.isPending) return <Waiting what={t("the standards")} />;
  if (all.isError) return <Trouble error={all.error} retry={() => void all.refetch()} />;
  const shown = instrument || (all.data[0]?.instrument ?? "");
  return (
    <main className="page standards">
      <title>{t("Standards – Sulvet")}</title>
      <nav aria-label={t("Instruments")}>
        <h1 className="h3">{t("Standards")}</h1>
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
  if (standard.isPending) return <Waiting what={t("the standard")} />;
  if (standard.isError)
    return <Trouble error={standard.error} retry={() => void standard.refetch()} />;
  return <EditStandard key={standard.data.version} standard={standard.data} />;
}

type View = StandardBand["view"];
const VIEWS: readonly View[] = ["front", "side", "close-up", "sound"];

function EditStandard({ standard }: { standard: OwnStandard }) {
  const { instrument } = standard;
  const [view, setView] = useState<View>("front");
  const draft = useDraft(standard);
  const { changes, own, words, edited } = draft;
  const setChanges = (bands: Changes) => draft.set({ changes: bands });
  const [school, setSchool] = useState(draft.usual);
  const [told, setTold] = useState("");
  // A reed has its drawing on its own close-ups.
  const drawn = view === "front" || view === "side" ? view : "front";
  const zones = useZones({ instrument, bands: changes, school, view: drawn });
  const views = VIEWS.filter((one) => standard.bands.some((band) => band.view === one));
  const save = useSaveStandard(instrument);
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
        <span className="faint">
          {t("version {{version}}", { version: standard.version.split(" ").pop() })}
        </span>
        <span className="flex-fill" />
        <Form.Select
          aria-label={t("Embouchure style")}
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
        <div className="btn-group" role="group" aria-label={t("View")}>
          {views.map((name) => (
            <Button
              key={name}
              variant="outline-secondary"
              aria-pressed={view === name}
              active={view === name}
              onClick={() => setView(name)}
            >
              {name === "close-up" ? t("reed") : t(name)}
            </Button>
          ))}
        </div>
      </div>
      <p className="faint">
        {sentence}{" "}
        {school === own ? (
          standard.schools.length > 1 && t("Used for students without a style of their own.")
        ) : (
          <Button
            variant="link"
            className="p-0 align-baseline"
            onClick={() => draft.set({ own: school })}
          >
            {t("Make default")}
          </Button>
        )}
      </p>
      <div className="standard-columns">
        <div>
          {view === "close-up" && (
            <p className="fs-5">
              <Rich
                text="Reed and mouthpiece are judged on close-up photos. Their limits are shown in the drawing of each <a>close-up</a>."
                parts={{ a: <Link to="/reeds" /> }}
              />
            </p>
          )}
          {zones.data && drawn === view && (
            <ZoneDrawing
              instrument={instrument}
              body={{ bands: changes, school, view: drawn }}
              drawing={zones.data.drawing}
              onDragged={(bands, key) => {
                setChanges(bands);
                setTold(key);
              }}
            />
          )}
          <p className="kicker">
            {t(
              "{{how}} Green is within standard, hatched is the margin where Sulvet says “watch”. Nothing changes until you save",
              {
                how:
                  drawn === view
                    ? t("Drag the edge of a zone, or a limit on its line.")
                    : t("Drag a limit on its line."),
              },
            )}
            {edited && t("; what you have changed stays here")}.
          </p>
          <Outcome instrument={instrument} changes={changes} school={own} edited={edited} />
          {edited && (
            <Form
              className="d-flex flex-wrap gap-2 align-items-end"
              onSubmit={(event) => {
                event.preventDefault();
                save.mutate(
                  { bands: changes, words, school: own },
                  {
                    onSuccess: () =>
                      tell(t("{{name}}: limits saved.", { name: standard.name })),
                  },
                );
              }}
            >
              <Form.Group controlId="version-words" className="flex-fill">
                <Form.Label className="mb-0">{t("What is this version for?")}</Form.Label>
                <Form.Control
                  maxLength={200}
                  value={words}
                  onChange={(event) => draft.set({ words: event.target.value })}
                />
              </Form.Group>
              <Button type="submit" disabled={save.isPending}>
                {t("Save")}
              </Button>
              <Button variant="outline-secondary" onClick={draft.reset}>
                {t("Cancel")}
              </Button>
            </Form>
          )}
          <Refused error={save.error} />
          <Facts standard={standard} />
          <Agreement rows={standard.agreement} />
          <Shared standard={standard} edited={edited} />
          <Versions
            standard={standard}
            toBase={() => save.mutate({ bands: {}, words: t("default"), school: "" })}
          />
        </div>
        <div>
          {bands.map((band) => (
            <BandRow
              key={band.key}
              band={band}
              figures={changes[band.key] ?? band.base}
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
          {bands.length === 0 && <p className="faint">{t("No limits from this side.")}</p>}
        </div>
      </div>
    </section>
  );
}

/** What would change, before it does. */
function Outcome({
  instrument,
  changes,
  school,
  edited,
}: {
  instrument: string;
  changes: Changes;
  school: string;
  edited: boolean;
}) {
  const effect = useEffectOf(instrument, changes, school);
  if (!edited) return null;
  if (effect.isError) return <Refused error={effect.error} />;
  if (!effect.data) return null;
  const { takes, readings, faults } = effect.data;
  return (
    <div role="status" className="finding">
      <strong>{t("In your {{takes}} takes:", { takes })}</strong>{" "}
      {readings === 0
        ? t("no reading changes its verdict.")
        : t("{{readings}} readings get a different verdict.", { readings })}
      <ul className="mb-0">
        {faults.map((f) => (
          <li key={f.fault}>
            {f.name}: {f.came > 0 && t("{{came}} more", { came: f.came })}
            {f.came > 0 && f.went > 0 && ", "}
            {f.went > 0 && t("{{went}} fewer", { went: f.went })}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** What to film, what to aim at, and which sizes millimetres are taken from. */
function Facts({ standard }: { standard: OwnStandard }) {
  return (
    <details className="finding">
      <summary>
        {t("Film from the {{views}}; pitches and sizes", {
          views: standard.film.map((view) => t(view)).join(t(", then from the ")),
        })}
      </summary>
      <ul className="mt-2 mb-0">
        {standard.targets.map((target) => (
          <li key={`${target.stage} ${target.pitch}`}>
            <Rich
              text="<strong>{{pitch}}</strong> with the {{stage}}. <span>{{note}}</span>"
              values={{
                pitch: pitchName(target.pitch),
                stage: target.stage,
                note: target.note,
              }}
              parts={{ strong: <strong />, span: <span className="kicker" /> }}
            />
          </li>
        ))}
        {standard.sizes.map((z) => (
          <li key={z.words}>
            <strong>{t("{{mm}} ± {{sigma}} mm", { mm: z.mm, sigma: z.sigma })}</strong>:{" "}
            {z.words}. <span className="kicker">{t("Common size, from memory.")}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** How often the teacher and Sulvet say the same, fault by fault. */
function Agreement({ rows }: { rows: OwnStandard["agreement"] }) {
  if (rows.length === 0) return null;
  return (
    <section className="finding" aria-labelledby="agreement-title">
      <h3 id="agreement-title" className="h5">
        {t("Agreement with Sulvet")}
      </h3>
      <div className="table-responsive">
        <table className="table table-sm figures">
          <thead>
            <tr>
              <th scope="col">{t("Fault")}</th>
              <th scope="col">{t("agreed")}</th>
              <th scope="col">{t("dismissed")}</th>
              <th scope="col">{t("added")}</th>
              <th
                scope="col"
                title={t("Agreement beyond chance (Cohen's kappa): 1 is full, 0 is chance")}
              >
                {t("agreement")}
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.fault}>
                <th scope="row" className="fw-normal">
                  {r.name}
                </th>
                <td>{r.confirmed}</td>
                <td>{r.dismissed}</td>
                <td>{r.added}</td>
                <td>
                  {r.kappa === null || r.low === null || r.high === null
                    ? t("too few")
                    : t("{{kappa}} ({{low}} to {{high}})", {
                        kappa: figure(r.kappa, 2),
                        low: figure(r.low, 2),
                        high: figure(r.high, 2),
                      })}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {rows
        .filter((r) => r.suggestion)
        .map((r) => (
          <p key={r.fault}>
            <strong>{r.name}:</strong> {r.suggestion}
          </p>
        ))}
    </section>
  );
}

function Versions({ standard, toBase }: { standard: OwnStandard; toBase: () => void }) {
  if (standard.versions.length === 0) return null;
  return (
    <details className="finding">
      <summary>{t("Your versions")}</summary>
      <ol className="list-unstyled mt-2 mb-2">
        {standard.versions.map((v) => (
          <li key={v.edition}>
            {v.edition}, {day(v.made_at.slice(0, 10))}:{" "}
            {v.bands === 0
              ? t("default")
              : t("{{bands}} {{limits}} changed", {
                  bands: v.bands,
                  limits: v.bands === 1 ? t("limit") : t("limits"),
                })}
            {v.words && `, ${v.words}`}
          </li>
        ))}
      </ol>
      {standard.bands.some((b) => b.changed) && (
        <Button size="sm" variant="outline-secondary" onClick={toBase}>
          {t("Reset to default")}
        </Button>
      )}
    </details>
  );
}
