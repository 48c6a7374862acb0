/** Practising the eye: begin a round, and how well one sees. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import { useEye, useEyeEdits, type EyePage, type Level } from "../api/eye";
import { counted } from "../shared/format";
import { Refused, Trouble, Waiting } from "../shared/states";
import { t } from "../shared/words";

export default function EyeScreen() {
  const eye = useEye();
  if (eye.isPending) return <Waiting what={t("your scores")} />;
  if (eye.isError) return <Trouble error={eye.error} />;
  return (
    <main className="page eye" id="content">
      <title>{t("Practise your eye – Sulvet")}</title>
      <h1>{t("Practise your eye and ear")}</h1>
      <div className="eye-home">
        <Begin page={eye.data} />
        <Scores page={eye.data} />
      </div>
    </main>
  );
}

function Begin({ page }: { page: EyePage }) {
  const { begin, share } = useEyeEdits();
  const go = useNavigate();
  const [instrument, setInstrument] = useState(page.instruments[0]?.id ?? "");
  const [level, setLevel] = useState<Level>("clear");
  return (
    <section aria-labelledby="begin-title">
      <h2 id="begin-title" className="h4">
        {t("A round of twelve")}
      </h2>
      <p>
        {t(
          "Twelve made-up students play. Say what is wrong with each, if anything is; then see what is true, and where to look. By ear: what is wrong with the tone.",
        )}
      </p>
      <Refused error={begin.error ?? share.error} />
      {page.open !== null && (
        <p>
          <Link className="btn btn-primary" to={`/eye/rounds/${page.open}`}>
            {t("Go on with the round you began")}
          </Link>
        </p>
      )}
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          begin.mutate(
            { instrument, level },
            { onSuccess: ({ id }) => void go(`/eye/rounds/${id}`) },
          );
        }}
      >
        <Form.Group controlId="eye-instrument" className="mb-2">
          <Form.Label className="mb-0">{t("Instrument")}</Form.Label>
          <Form.Select value={instrument} onChange={(e) => setInstrument(e.target.value)}>
            {page.instruments.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="eye-level" className="mb-3">
          <Form.Label className="mb-0">{t("What is shown")}</Form.Label>
          <Form.Select value={level} onChange={(e) => setLevel(e.target.value as Level)}>
            {page.levels.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <div className="d-flex flex-wrap gap-2">
          <Button type="submit" size="lg" disabled={begin.isPending}>
            {t("Begin a round")}
          </Button>
          <Link className="btn btn-lg btn-outline-secondary" to={`/eye/gallery/${instrument}`}>
            {t("Gallery of faults")}
          </Link>
          <Link className="btn btn-lg btn-outline-secondary" to={`/eye/pairs/${instrument}`}>
            {t("Pairs for the class")}
          </Link>
        </div>
        <Button
          variant="link"
          className="p-0 mt-3"
          disabled={share.isPending}
          onClick={() => share.mutate({ instrument, level })}
        >
          {t("A link to such a round for somebody else")}
        </Button>
        {share.data && (
          <p className="address mb-0">
            <a href={share.data.address}>{share.data.address}</a>
          </p>
        )}
      </Form>
    </section>
  );
}

function Scores({ page }: { page: EyePage }) {
  if (page.faults.length === 0)
    return (
      <section className="faint">
        <p>
          {t("After your first round you see here which faults you find and which you miss.")}
        </p>
      </section>
    );
  return (
    <section aria-labelledby="scores-title">
      <h2 id="scores-title" className="h4">
        {t("How well you see and hear")}
      </h2>
      <p className="fs-5">{page.practise}</p>
      <div className="table-responsive">
        <table className="table figures">
          <thead>
            <tr>
              <th scope="col">{t("Fault")}</th>
              <th scope="col">{t("Found")}</th>
              <th scope="col">{t("Said without reason")}</th>
              <th scope="col">
                <abbr
                  title={t(
                    "How far apart you tell takes with and without it: 0 is guessing, 3 hardly ever wrong; with its 95 % interval",
                  )}
                >
                  {t("Sensitivity d′")}
                </abbr>
              </th>
              <th scope="col">{t("Tendency")}</th>
              <th scope="col">{t("Found half of the time")}</th>
            </tr>
          </thead>
          <tbody>
            {page.faults.map((one) => (
              <tr key={one.name}>
                <th scope="row">{one.name}</th>
                <td>
                  {t("{{hits}} of {{present}}", { hits: one.hits, present: one.present })}
                </td>
                <td>
                  {t("{{alarms}} of {{absent}}", { alarms: one.alarms, absent: one.absent })}
                </td>
                <td>{one.sensitivity || <span className="faint">{t("too few yet")}</span>}</td>
                <td>{one.bias}</td>
                <td>{one.seen_at}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {page.oneself && <p>{page.oneself}</p>}
      {page.own && <p>{page.own}</p>}
      <p className="mb-0">
        {page.weeks.map((one) => (
          <span key={one.week} className="d-block">
            {t("{{week}}: {{right}} right of {{take}}", {
              week: one.week,
              right: one.right,
              take: counted(one.judged, "take"),
            })}
          </span>
        ))}
      </p>
    </section>
  );
}
