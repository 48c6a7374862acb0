/** Where a drill is after so many counts: pure, so that a clock can be anything. */
export interface Beat {
  do: "in" | "out" | "tone" | "hum" | "hold" | "rest" | "listen";
  counts: number;
}

export interface Moment {
  /** Which beat, from 0. */
  at: number;
  beat: Beat;
  /** The count within the beat, from 1. */
  count: number;
}

/** Counts before the first beat, so that nobody starts late. */
export const COUNT_IN = 4;

export function lengthOf(beats: readonly Beat[]): number {
  return beats.reduce((sum, beat) => sum + beat.counts, 0);
}

/** The moment after whole counts from the first beat; null before it and after the last. */
export function momentAt(beats: readonly Beat[], counts: number): Moment | null {
  if (counts < 0) return null;
  let left = counts;
  for (const [at, beat] of beats.entries()) {
    if (left < beat.counts) return { at, beat, count: left + 1 };
    left -= beat.counts;
  }
  return null;
}

/** A time of practice in minutes and seconds. */
export function minutesOf(beats: readonly Beat[], tempo: number): string {
  const seconds = Math.round((lengthOf(beats) * 60) / tempo);
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
}

/** The beats of an echo: what sounds is done by the teacher first, then by the class. */
export function echoed(beats: readonly Beat[]): Beat[] {
  const sounds = (beat: Beat) => beat.do === "tone" || beat.do === "hum" || beat.do === "out";
  return beats.flatMap((beat) =>
    sounds(beat) ? [{ do: "listen" as const, counts: beat.counts }, beat] : [beat],
  );
}
