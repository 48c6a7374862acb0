/** How the teacher left each take's Bench, so that half-done work is found again. */
import { useEffect, useState } from "react";
import type { Round } from "./Placing";

export interface Position {
  frame: number;
  selected: string | null;
  round: Round | null;
  /** What was being typed as the reason for a dismissal, and of which finding. */
  dismissing: { key: string; reason: string } | null;
}

// As it was called when the first of them were kept.
const KEY = "sulvet-desks";
/** So many takes are remembered. */
const KEPT = 60;

function positions(): Record<string, Position> {
  try {
    return (
      (JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, Position> | null) ?? {}
    );
  } catch {
    return {};
  }
}

export function positionOf(take: number): Position | null {
  return positions()[take] ?? null;
}

export function keepPosition(take: number, position: Position): void {
  const others = Object.entries(positions()).filter(([id]) => id !== String(take));
  const kept = [...others.slice(1 - KEPT), [String(take), position] as const];
  localStorage.setItem(KEY, JSON.stringify(Object.fromEntries(kept)));
}

/** A state that is kept for the next time this take lies on the Bench. */
export function usePosition(take: number, first: () => Position) {
  const [position, setPosition] = useState(() => positionOf(take) ?? first());
  useEffect(() => {
    // Scrubbing changes it many times a second.
    const timer = window.setTimeout(() => keepPosition(take, position), 300);
    return () => window.clearTimeout(timer);
  }, [take, position]);
  useEffect(() => {
    const leave = () => keepPosition(take, position);
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, [take, position]);
  return [position, setPosition] as const;
}
