/** What is marked on a close-up, while the teacher is at it. */
import type { CloseUp, Placed } from "../api/closeups";

export interface Spot {
  x: number;
  y: number;
}

export interface Draft {
  marks: Readonly<Record<string, Spot>>;
  hidden: readonly string[];
  ticks: readonly string[];
}

export function draftOf(page: CloseUp): Draft {
  return {
    marks: Object.fromEntries(page.marks.map(({ id, x, y }) => [id, { x, y }])),
    hidden: page.hidden,
    ticks: page.ticks.filter((tick) => tick.ticked).map((tick) => tick.id),
  };
}

export function asSent({ marks, hidden, ticks }: Draft): Placed {
  return {
    marks: Object.entries(marks).map(([id, { x, y }]) => ({ id, x, y })),
    hidden: [...hidden],
    ticks: [...ticks],
  };
}

/** The next thing asked for; null when all is marked. */
export function nextAsked(page: CloseUp, draft: Draft): CloseUp["asked"][number] | null {
  return (
    page.asked.find((mark) => !(mark.id in draft.marks) && !draft.hidden.includes(mark.id)) ??
    null
  );
}

export function placed(draft: Draft, id: string, at: Spot): Draft {
  return {
    ...draft,
    marks: { ...draft.marks, [id]: at },
    hidden: draft.hidden.filter((one) => one !== id),
  };
}

export function covered(draft: Draft, id: string): Draft {
  const marks = Object.fromEntries(Object.entries(draft.marks).filter(([one]) => one !== id));
  return { ...draft, marks, hidden: [...draft.hidden.filter((one) => one !== id), id] };
}

/** Without the one that was marked or covered last, in the order asked for. */
export function withoutLast(page: CloseUp, draft: Draft): Draft {
  const done = page.asked.filter(
    (mark) => mark.id in draft.marks || draft.hidden.includes(mark.id),
  );
  const last = done[done.length - 1];
  if (!last) return draft;
  const without = covered(draft, last.id);
  return { ...without, hidden: without.hidden.filter((one) => one !== last.id) };
}

export function ticked(draft: Draft, id: string): Draft {
  const ticks = draft.ticks.includes(id)
    ? draft.ticks.filter((one) => one !== id)
    : [...draft.ticks, id];
  return { ...draft, ticks };
}

/** Moved, but never out of the picture. */
export function kept(page: Pick<CloseUp, "width" | "height">, { x, y }: Spot): Spot {
  return {
    x: Math.min(Math.max(x, 0), page.width - 1),
    y: Math.min(Math.max(y, 0), page.height - 1),
  };
}
