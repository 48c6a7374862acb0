import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import { usePeople } from "../api/people";
import { usePreferences, useSetPreferences, type Preferences } from "../api/preferences";
import { day } from "../shared/format";
import { paperOf } from "../shared/slip";
import { Refused, Trouble, Waiting } from "../shared/states";
import { Account } from "./Account";
import { People } from "./People";
import { School } from "./School";
import { SecondFactor } from "./SecondFactor";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

export default function SettingsScreen() {
  const preferences = usePreferences();
  const people = usePeople();
  if (preferences.isPending) return <Waiting what={t("the settings")} />;
  if (preferences.isError)
    return <Trouble error={preferences.error} retry={() => void preferences.refetch()} />;
  const { time_zone, paper, language } = preferences.data;
  return (
    <main className="page settings">
      <title>{t("Settings – Sulvet")}</title>
      <h1>{t("Settings")}</h1>
      <Place
        key={`${time_zone} ${paper} ${language}`}
        set={{ time_zone, paper, language }}
        zones={preferences.data.time_zones}
        languages={preferences.data.languages}
        today={preferences.data.today}
      />
      <Account />
      <SecondFactor />
      <People />
      {people.data?.administrator && <School />}
      <section aria-labelledby="more-title">
        <h2 id="more-title" className="h3">
          {t("More settings")}
        </h2>
        <ul className="list-unstyled">
          <li>
            <Rich
              text="<a>School days</a>: days off, holidays, drill minutes per day"
              parts={{ a: <Link to="/school-days" /> }}
            />
          </li>
          <li>
            <Rich
              text="<a>Standards</a>: limits and embouchure styles"
              parts={{ a: <Link to="/standards" /> }}
            />
          </li>
          <li>
            <Rich
              text="<a>Reeds</a>: how long a reed lasts"
              parts={{ a: <Link to="/reeds" /> }}
            />
          </li>
          <li>
            <Rich
              text="<a>Marking accuracy</a>: how precisely you place marks"
              parts={{ a: <Link to="/hand" /> }}
            />
          </li>
          <li>
            <Rich
              text="<a>Export and backup</a>: and automatic deletion"
              parts={{ a: <Link to="/records" /> }}
            />
          </li>
        </ul>
      </section>
    </main>
  );
}

interface PlaceProps {
  set: Preferences;
  zones: string[];
  languages: { code: string; name: string }[];
  today: string;
}

function Place({ set, zones, languages, today }: PlaceProps) {
  const save = useSetPreferences();
  const [wishes, setWishes] = useState(set);
  const change = (part: Partial<Preferences>) => setWishes((now) => ({ ...now, ...part }));
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const usual = paperOf(navigator.language) === "letter" ? t("US Letter") : "A4";
  return (
    <section aria-labelledby="place-title">
      <h2 id="place-title" className="h3">
        {t("School")}
      </h2>
      <Form
        className="d-flex flex-wrap align-items-end gap-3 mb-2"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(wishes, {
            // Words are in every page already: another language begins with new pages.
            onSuccess: () => {
              if (wishes.language !== set.language) window.location.reload();
            },
          });
        }}
      >
        <Form.Group controlId="time-zone">
          <Form.Label>{t("Time zone")}</Form.Label>
          <Form.Control
            list="time-zones"
            value={wishes.time_zone}
            placeholder={t("{{here}} (this browser)", { here })}
            onChange={(event) => change({ time_zone: event.target.value.trim() })}
          />
          <datalist id="time-zones">
            {zones.map((zone) => (
              <option key={zone} value={zone} />
            ))}
          </datalist>
        </Form.Group>
        <Form.Group controlId="paper">
          <Form.Label>{t("Paper")}</Form.Label>
          <Form.Select
            value={wishes.paper}
            onChange={(event) => change({ paper: event.target.value })}
          >
            <option value="">{t("{{usual}} (usual here)", { usual })}</option>
            <option value="a4">A4</option>
            <option value="letter">{t("US Letter")}</option>
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="language">
          <Form.Label>{t("Language")}</Form.Label>
          <Form.Select
            value={wishes.language}
            onChange={(event) => change({ language: event.target.value })}
          >
            <option value="">{t("as in this browser")}</option>
            {languages.map((one) => (
              <option key={one.code} value={one.code} lang={one.code}>
                {one.name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Button type="submit" disabled={save.isPending}>
          {t("Save")}
        </Button>
      </Form>
      <Refused error={save.error} />
      <p className="faint">
        {t("Today is {{today}} at your school.", { today: day(today) })}{" "}
        {save.isSuccess && <span role="status">{t("Saved.")}</span>}
      </p>
    </section>
  );
}
