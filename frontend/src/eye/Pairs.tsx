/** Two made-up students: which one is as it should be? No scores. */
import { inside } from "../shared/format";
import { useState } from "react";
import { Button } from "react-bootstrap";
import type { GalleryRow } from "../api/eye";
import { Film } from "./Film";
import { pairOf, type Pair } from "./pairs";
import { t } from "../shared/words";

export function Pairs({ rows }: { rows: GalleryRow[] }) {
  const [pair, setPair] = useState<Pair | null>(() => pairOf(rows, Math.random));
  const [chosen, choose] = useState<number | null>(null);
  if (!pair) return <p>{t("There are no pairs for this instrument.")}</p>;
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
            <Film src={film} label={n === 0 ? t("The left one") : t("The right one")} />
          </button>
        ))}
      </div>
      <div role="status" className="pair-told">
        {chosen !== null && (
          <>
            <p className="fs-2 mb-1">
              {chosen === pair.right
                ? t("Yes, that one.")
                : t("Look again: it is the other one.")}
            </p>
            <p className="fs-4">
              {chosen === pair.right ? t("The other one") : t("This one")}: {inside(pair.name)}.{" "}
              {pair.look}
            </p>
            <Button
              size="lg"
              onClick={() => {
                choose(null);
                setPair(pairOf(rows, Math.random));
              }}
            >
              {t("Another pair")}
            </Button>
          </>
        )}
      </div>
    </>
  );
}
