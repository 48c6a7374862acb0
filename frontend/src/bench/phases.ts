/** Setting rehearsal marks: every change gives a whole new list. */
import type { Phase } from "../api/client";
import { phaseWords } from "../shared/phases";

export type PhaseName = Phase["name"];
export type Span = Pick<Phase, "name" | "start" | "end">;

/** A phase is never drawn shorter than this, s. */
const SHORTEST = 0.1;
const NEW = 1;
/** Edges nearer than this are one, s. */
const TOUCHING = 0.02;

/**
 * nth  which phase is moved, by its place in the list; without it the one of that name that is
 *      nearest: of four tones each has its own hold
 */
export function withEdge(
  phases: Span[],
  name: PhaseName,
  edge: "start" | "end",
  seconds: number,
  last: number,
  nth?: number,
): Span[] {
  const at = Math.min(Math.max(seconds, 0), last);
  const old = nth === undefined ? nearest(phases, name, at) : phases[nth];
  const span: Span = old
    ? { name, start: old.start, end: old.end, [edge]: at }
    : edge === "start"
      ? { name, start: at, end: Math.min(at + NEW, last) }
      : { name, start: Math.max(at - NEW, 0), end: at };
  if (span.end - span.start < SHORTEST) {
    if (edge === "start") span.end = Math.min(span.start + SHORTEST, last);
    else span.start = Math.max(span.end - SHORTEST, 0);
    if (span.end - span.start < SHORTEST) {
      span.start = Math.max(last - SHORTEST, 0);
      span.end = last;
    }
  }
  const kept = phases
    .filter((p) => p !== old)
    .map(({ name, start, end }) => ({ name, start, end }))
    .map((p) => (old ? beside(p, old, span, edge) : p))
    .filter((p) => p.end > p.start);
  return [...kept, span].sort((a, b) => a.start - b.start);
}

/** Of several phases of one name the one a moment lies in, else the one nearest to it. */
export function nearest<P extends Span>(
  phases: P[],
  name: PhaseName,
  seconds: number,
): P | undefined {
  const away = (p: P) => Math.max(p.start - seconds, seconds - p.end, 0);
  return phases
    .filter((p) => p.name === name)
    .reduce<P | undefined>((a, b) => (a && away(a) <= away(b) ? a : b), undefined);
}

/** One more phase of a name from a moment on, up to the next of that name. */
export function withAnother(
  phases: Span[],
  name: PhaseName,
  seconds: number,
  last: number,
): Span[] {
  const after = phases.filter((p) => p.name === name && p.start > seconds).map((p) => p.start);
  const end = Math.min(seconds + NEW, last, ...after);
  const start = Math.min(seconds, end - SHORTEST);
  const plain = phases.map(({ name, start, end }) => ({ name, start, end }));
  return [...plain, { name, start, end }].sort((a, b) => a.start - b.start);
}

/** What a phase is called: with its number where there are several of its name. */
export function titleOf(phases: Span[], phase: Span): string {
  const same = phases.filter((p) => p.name === phase.name);
  const name = phaseWords(phase.name);
  return same.length > 1 ? `${name} ${same.indexOf(phase) + 1}` : name;
}

/** A phase that touches the moved edge moves along with it: two letters share one line. */
function beside(phase: Span, old: Span, now: Span, edge: "start" | "end"): Span {
  const moved = { ...phase };
  if (edge === "end" && Math.abs(phase.start - old.end) < TOUCHING) moved.start = now.end;
  if (edge === "start" && Math.abs(phase.end - old.start) < TOUCHING) moved.end = now.start;
  // Rest and hold are never pushed away; another letter may be.
  const kept = phase.name === "rest" || phase.name === "hold";
  return kept && moved.end - moved.start < SHORTEST ? phase : moved;
}

/** The frame whose time is nearest. */
export function frameAt(times: number[], seconds: number): number {
  let low = 0;
  let high = times.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((times[middle] ?? 0) < seconds) low = middle + 1;
    else high = middle;
  }
  const before = times[low - 1];
  const here = times[low] ?? 0;
  return before !== undefined && seconds - before < here - seconds ? low - 1 : low;
}
