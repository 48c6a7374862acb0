/** Two made-up students: which one is as it should be? No scores. */
import { useState } from "react";
import { Button } from "react-bootstrap";
import type { GalleryRow } from "../api/eye";
import { Film } from "./Film";
import { pairOf, type Pair } from "./pairs";

export function Pairs({ rows }: { rows: GalleryRow[] }) {
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
