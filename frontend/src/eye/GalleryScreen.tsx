/** Right, and each fault of an instrument in three degrees, with what looks like it. */
import { useState } from "react";
import { Form } from "react-bootstrap";
import { Link, useNavigate, useParams } from "react-router";
import { useEye, useGallery, type GalleryLoop, type GalleryRow } from "../api/eye";
import { Trouble, Waiting } from "../shared/states";
import { Film } from "./Film";
import { Tone } from "./Tone";
import { t } from "../shared/words";

const VIEWS = [
  ["front", t("From the front")],
  ["side", t("From the side")],
  ["ear", t("By ear")],
] as const;

export default function GalleryScreen() {
  const { instrument = "flute" } = useParams();
  const go = useNavigate();
  const eye = useEye();
  const rows = useGallery(instrument);
  const [moving, setMoving] = useState(true);
  if (rows.isPending || eye.isPending) return <Waiting what={t("the gallery")} />;
  const error = rows.error ?? eye.error;
  if (error || !rows.data || !eye.data)
    return <Trouble error={error ?? new Error(t("The gallery could not be loaded."))} />;
  return (
    <main className="page eye" id="content">
      <title>{t("Gallery of faults – Sulvet")}</title>
      <div className="d-flex flex-wrap align-items-center gap-3 mb-2">
        <h1 className="mb-0">{t("Gallery")}</h1>
        <Form.Select
          aria-label={t("Instrument")}
          className="w-auto"
          value={instrument}
          onChange={(event) => void go(`/eye/gallery/${event.target.value}`)}
        >
          {eye.data.instruments.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Form.Select>
        <Form.Check
          type="switch"
          id="moving"
          label={t("Moving")}
          checked={moving}
          onChange={(event) => setMoving(event.target.checked)}
        />
        <span className="flex-fill" />
        <Link to="/eye">{t("Practise")}</Link>
      </div>
      {VIEWS.map(([view, title]) => (
        <section key={view} aria-labelledby={`gallery-${view}`}>
          <h2 id={`gallery-${view}`}>{title}</h2>
          {rows.data
            .filter((row) => row.view === view)
            .map((row) => (
              <Row key={row.name} row={row} moving={moving} ear={view === "ear"} />
            ))}
        </section>
      ))}
    </main>
  );
}

interface RowProps {
  row: GalleryRow;
  moving: boolean;
  ear: boolean;
}

function Row({ row, moving, ear }: RowProps) {
  return (
    <article className="gallery-row" aria-label={row.name}>
      <div>
        <h3 className="h5 mb-1">{row.name}</h3>
        <p className="mb-0 faint">{row.look}</p>
      </div>
      <div className="loops">
        {row.loops.map((one) => (
          <Shown key={one.id} one={one} moving={moving} ear={ear} words={one.words} />
        ))}
        {row.alike && (
          <Shown
            one={row.alike}
            moving={moving}
            ear={ear}
            words={t("{{how}} like it: {{words}}", {
              how: ear ? t("Sounds") : t("Looks"),
              words: row.alike.words,
            })}
          />
        )}
      </div>
    </article>
  );
}

interface ShownProps {
  one: GalleryLoop;
  moving: boolean;
  ear: boolean;
  words: string;
}

function Shown({ one, moving, ear, words }: ShownProps) {
  return (
    <figure>
      {ear ? (
        <Tone src={one.film} label={words || t("as it should be")} />
      ) : (
        <Film src={one.film} label={words || one.id} marks={moving ? null : one.marks} />
      )}
      <figcaption>{words}</figcaption>
    </figure>
  );
}
