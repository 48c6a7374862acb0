/** For a class, on the projector: two made-up students, which one is as it should be? No scores. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link, useNavigate, useParams } from "react-router";
import { useEye, useGallery, type GalleryRow } from "../api/eye";
import { Trouble, Waiting } from "../shared/states";
import { Film } from "./Film";
import { pairOf, type Pair } from "./pairs";

export default function PairsScreen() {
  const { instrument = "flute" } = useParams();
  const eye = useEye();
  const rows = useGallery(instrument);
  const go = useNavigate();
  if (rows.isPending || eye.isPending) return <Waiting what="the pairs" />;
  if (rows.isError) return <Trouble error={rows.error} />;
  return (
    <main className="page eye" id="content">
      <title>Which one is it? – Sulvet</title>
      <div className="d-flex flex-wrap align-items-center gap-3 mb-2">
        <h1 className="mb-0">Which one is as it should be?</h1>
        <span className="flex-fill" />
        <Form.Select
          aria-label="Instrument"
          className="w-auto"
          value={instrument}
          onChange={(event) => void go(`/eye/pairs/${event.target.value}`)}
        >
          {eye.data?.instruments.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Form.Select>
        <Link to="/eye">Practise</Link>
      </div>
      <Pairs key={instrument} rows={rows.data} />
    </main>
  );
}

function Pairs({ rows }: { rows: GalleryRow[] }) {
  const [pair, setPair] = useState<Pair | null>(() => pairOf(rows, Math.random));
  const [chosen, choose] = useState<number | null>(null);
  if (!pair) return <p>There are no pairs for this instrument.</p>;
  return (
    <>
      <div className="pair">
        {pair.films.map((film, n) => (
          <button
            key={`${film} ${n}`}
            type="button"
            aria-pressed={chosen === n}
            onClick={() => choose(n)}
          >
            <Film src={film} label={n === 0 ? "The left one" : "The right one"} />
          </button>
        ))}
      </div>
      <div role="status" className="pair-told">
        {chosen !== null && (
          <>
            <p className="fs-2 mb-1">
              {chosen === pair.right ? "Yes, that one." : "Look again: it is the other one."}
            </p>
            <p className="fs-4">
              {chosen === pair.right ? "The other one" : "This one"}: {pair.name.toLowerCase()}.{" "}
              {pair.look}
            </p>
            <Button
              size="lg"
              onClick={() => {
                choose(null);
                setPair(pairOf(rows, Math.random));
              }}
            >
              Another pair
            </Button>
          </>
        )}
      </div>
    </>
  );
}
