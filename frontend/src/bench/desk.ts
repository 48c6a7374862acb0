/** How the teacher left each take's Bench, so that half-done work is found again. */
import { useEffect, useState } from "react";
import type { Round } from "./Placing";

export interface Desk {
  frame: number;
  selected: string | null;
  round: Round | null;
  /** What was being typed as the reason for a dismissal, and of which finding. */
  dismissing: { key: string; reason: string } | null;
}

const KEY = "sulvet-desks";
/** The desks of so many takes are kept. */
const KEPT = 60;

function desks(): Record<string, Desk> {
  try {
    return (JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, Desk> | null) ?? {};
  } catch {
    return {};
  }
}

export function deskOf(take: number): Desk | null {
  return desks()[take] ?? null;
}

export function keepDesk(take: number, desk: Desk): void {
  const others = Object.entries(desks()).filter(([id]) => id !== String(take));
  const kept = [...others.slice(1 - KEPT), [String(take), desk] as const];
  localStorage.setItem(KEY, JSON.stringify(Object.fromEntries(kept)));
}

/** A state that is kept for the next time this take lies on the Bench. */
export function useDesk(take: number, first: () => Desk) {
  const [desk, setDesk] = useState(() => deskOf(take) ?? first());
  useEffect(() => {
    // Scrubbing changes it many times a second.
    const timer = window.setTimeout(() => keepDesk(take, desk), 300);
    return () => window.clearTimeout(timer);
  }, [take, desk]);
  useEffect(() => {
    const leave = () => keepDesk(take, desk);
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, [take, desk]);
  return [desk, setDesk] as const;
}

const RUN = "sulvet-run";

/** The takes the teacher goes through, in the order they waited in when the run began. */
export function runOf(take: number, waiting: number[]): number[] {
  let run: number[] = [];
  try {
    run = (JSON.parse(sessionStorage.getItem(RUN) ?? "[]") as number[] | null) ?? [];
  } catch {
    // begun anew
  }
  const added = waiting.filter((id) => !run.includes(id));
  run = run.includes(take)
    ? [...run, ...added]
    : [take, ...waiting.filter((id) => id !== take)];
  sessionStorage.setItem(RUN, JSON.stringify(run));
  return run;
}
