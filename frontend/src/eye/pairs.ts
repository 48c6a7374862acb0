/** A pair by lot: one as it should be, one with a strong fault, from the same side. */
import type { GalleryRow } from "../api/eye";

export interface Pair {
  films: [string, string];
  /** Which of both is as it should be. */
  right: 0 | 1;
  /** What is wrong with the other, and where to look. */
  name: string;
  look: string;
}

/** lot  a number from 0 up to 1, another one each time */
export function pairOf(rows: readonly GalleryRow[], lot: () => number): Pair | null {
  const one = <T>(of: readonly T[]): T | undefined => of[Math.floor(lot() * of.length)];
  // What is right has nothing to look at.
  const wrong = one(
    rows.filter(({ look, loops, view }) => look !== "" && loops.length > 0 && view !== "ear"),
  );
  const bad = wrong?.loops.at(-1);
  const good = one(
    rows.find((row) => row.look === "" && row.view === wrong?.view)?.loops ?? [],
  );
  if (!wrong || !bad || !good) return null;
  const right = lot() < 0.5 ? 0 : 1;
  return {
    films: right === 0 ? [good.film, bad.film] : [bad.film, good.film],
    right,
    name: wrong.name,
    look: wrong.look,
  };
}
