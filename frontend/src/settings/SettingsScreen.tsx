import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import { usePreferences, useSetPreferences, type Preferences } from "../api/preferences";
import { day } from "../shared/format";
import { paperOf } from "../shared/slip";
import { Refused, Trouble, Waiting } from "../shared/states";
import { Account } from "./Account";
import { People } from "./People";
import { SecondFactor } from "./SecondFactor";

export default function SettingsScreen() {
  const preferences = usePreferences();
  if (preferences.isPending) return <Waiting what="the settings" />;
  if (preferences.isError)
    return <Trouble error={preferences.error} retry={() => void preferences.refetch()} />;
  const { time_zone, paper } = preferences.data;
  return (
    <main className="page settings">
      <title>Settings – Sulvet</title>
      <h1>Settings</h1>
      <Place
        key={`${time_zone} ${paper}`}
        set={{ time_zone, paper }}
        zones={preferences.data.time_zones}
        today={preferences.data.today}
      />
      <Account />
      <SecondFactor />
      <People />
      <section aria-labelledby="more-title">
        <h2 id="more-title" className="h3">
          More settings
        </h2>
        <ul className="list-unstyled">
          <li>
            <Link to="/school-days">School days</Link>: days off, holidays, drill minutes per
            day
          </li>
          <li>
            <Link to="/standards">Standards</Link>: limits and embouchure styles
          </li>
          <li>
            <Link to="/reeds">Reeds</Link>: how long a reed lasts
          </li>
          <li>
            <Link to="/hand">Marking accuracy</Link>: how precisely you place marks
          </li>
          <li>
            <Link to="/records">Export and backup</Link>: and automatic deletion
          </li>
        </ul>
      </section>
    </main>
  );
}

interface PlaceProps {
  set: Preferences;
  zones: string[];
  today: string;
}

function Place({ set, zones, today }: PlaceProps) {
  const save = useSetPreferences();
  const [wishes, setWishes] = useState(set);
  const change = (part: Partial<Preferences>) => setWishes((now) => ({ ...now, ...part }));
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const usual = paperOf(navigator.language) === "letter" ? "US Letter" : "A4";
  return (
    <section aria-labelledby="place-title">
      <h2 id="place-title" className="h3">
        School
      </h2>
      <Form
        className="d-flex flex-wrap align-items-end gap-3 mb-2"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(wishes);
        }}
      >
        <Form.Group controlId="time-zone">
          <Form.Label>Time zone</Form.Label>
          <Form.Control
            list="time-zones"
            value={wishes.time_zone}
            placeholder={`${here} (this browser)`}
            onChange={(event) => change({ time_zone: event.target.value.trim() })}
          />
          <datalist id="time-zones">
            {zones.map((zone) => (
              <option key={zone} value={zone} />
            ))}
          </datalist>
        </Form.Group>
        <Form.Group controlId="paper">
          <Form.Label>Paper</Form.Label>
          <Form.Select
            value={wishes.paper}
            onChange={(event) => change({ paper: event.target.value })}
          >
            <option value="">{`${usual} (usual here)`}</option>
            <option value="a4">A4</option>
            <option value="letter">US Letter</option>
          </Form.Select>
        </Form.Group>
        <Button type="submit" disabled={save.isPending}>
          Save
        </Button>
      </Form>
      <Refused error={save.error} />
      <p className="faint">
        Today is {day(today)} at your school.{" "}
        {save.isSuccess && <span role="status">Saved.</span>}
      </p>
    </section>
  );
}
