/** The shortcuts of all screens, and the keys a teacher has chosen for them instead. */
import { useSyncExternalStore } from "react";
import type { Keys } from "./useKeys";
import { t } from "./words";

export type Scope = "bench" | "closeUp" | "thenNow";

export interface Shortcut {
  id: string;
  key: string;
  what: string;
}

export interface Group {
  title: string;
  scope: Scope;
  rows: Shortcut[];
}

export const GROUPS: Group[] = [
  {
    title: t("Bench: time"),
    scope: "bench",
    rows: [
      { id: "frame-back", key: "q", what: t("one frame back (Shift: ten)") },
      { id: "frame-on", key: "w", what: t("one frame forward (Shift: ten)") },
      { id: "play", key: " ", what: t("play, stop") },
      {
        id: "slower",
        key: "s",
        what: t("slower, then full speed again (Shift: sound on or off)"),
      },
      { id: "marked-before", key: "PageUp", what: t("previous marked frame") },
      { id: "marked-next", key: "PageDown", what: t("next marked frame") },
      { id: "tone", key: "e", what: t("next tone (Shift: the previous one)") },
      { id: "rest", key: "1", what: t("“rest” begins here (Shift: ends here)") },
      { id: "hold", key: "2", what: t("“hold” begins here (Shift: ends here)") },
      { id: "phases", key: "3", what: t("set any phase") },
      { id: "staves", key: "4", what: t("all measurements, or the main ones") },
    ],
  },
  {
    title: t("Bench: marks"),
    scope: "bench",
    rows: [
      { id: "mark", key: "m", what: t("select the next mark (Shift: the previous one)") },
      { id: "hidden", key: "x", what: t("not visible, or visible again") },
      { id: "remove-mark", key: "u", what: t("remove what you placed on this frame") },
      { id: "accept", key: "a", what: t("accept all found marks as right") },
      { id: "undo", key: "b", what: t("undo (Shift: redo)") },
    ],
  },
  {
    title: t("Bench: picture and drawing"),
    scope: "bench",
    rows: [
      { id: "closer", key: "+", what: t("zoom in") },
      { id: "farther", key: "-", what: t("zoom out") },
      { id: "fit", key: "0", what: t("fit to window") },
      { id: "mouth", key: "z", what: t("mouth or whole picture") },
      { id: "veil", key: "v", what: t("hide all but the mouth") },
      { id: "drawing", key: "g", what: t("drawing of this frame or of the held note") },
    ],
  },
  {
    title: t("Bench: findings"),
    scope: "bench",
    rows: [
      { id: "worst", key: "f", what: t("go to the worst frame of the first finding") },
      { id: "confirm", key: "c", what: t("confirm the first finding") },
      { id: "dismiss", key: "d", what: t("dismiss it, with a reason") },
      { id: "reviewed", key: "r", what: t("mark this take as reviewed") },
      { id: "own", key: "h", what: t("add your own finding") },
      { id: "observations", key: "t", what: t("tick what the camera can't see") },
      { id: "then-now", key: "y", what: t("then and now") },
      { id: "next", key: "n", what: t("next take (Shift: a note at this moment)") },
      { id: "previous", key: "p", what: t("previous take") },
    ],
  },
  {
    title: t("Reed close-up"),
    scope: "closeUp",
    rows: [
      { id: "mark", key: "m", what: t("select the next mark") },
      { id: "hidden", key: "x", what: t("something covers what is asked for") },
      { id: "undo", key: "u", what: t("undo the last mark") },
    ],
  },
  {
    title: t("Then and now"),
    scope: "thenNow",
    rows: [
      { id: "beside", key: "1", what: t("side by side") },
      { id: "over", key: "2", what: t("overlaid") },
      { id: "edge", key: "3", what: t("moving edge") },
      { id: "ear", key: "e", what: t("hear then, now, then") },
      { id: "frame-back", key: "q", what: t("newer take: previous frame (Shift: older take)") },
      { id: "frame-on", key: "w", what: t("newer take: next frame (Shift: older take)") },
    ],
  },
];

/** Keys that always mean the same, and can't be given to anything else. */
export const FIXED: [string[], string][] = [
  [["?"], t("this sheet")],
  [["Esc"], t("close, cancel")],
  [["Enter"], t("place the mark that is asked for in the middle")],
  [["←", "↑", "↓", "→"], t("move the selected mark half a pixel (Shift: five, Alt: a tenth)")],
  [["Ctrl", "Z"], t("undo (Shift: redo)")],
];

const STORED = "sulvet-shortcuts";
type Chosen = Record<string, string>;

function stored(): Chosen {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(STORED) ?? "{}");
    return typeof kept === "object" && kept !== null ? (kept as Chosen) : {};
  } catch {
    return {};
  }
}

// Read once: the Bench asks with every frame that plays.
let chosen = stored();
const listeners = new Set<() => void>();

function change(next: Chosen): void {
  chosen = next;
  localStorage.setItem(STORED, JSON.stringify(next));
  listeners.forEach((told) => told());
}

/** Draws anew whoever shows keys when one is changed. */
export function useChosen(): Chosen {
  return useSyncExternalStore(
    (told) => {
      listeners.add(told);
      return () => listeners.delete(told);
    },
    () => chosen,
  );
}

/** The key of a shortcut: the teacher's own, or the usual one. */
export function keyOf(scope: Scope, id: string): string {
  const usual = () => rows(scope).find((row) => row.id === id)?.key ?? "";
  return chosen[`${scope}.${id}`] ?? usual();
}

/** How a key is written on screen. */
export function keyWords(key: string): string {
  return key === " " ? t("Space") : key.length === 1 ? key.toUpperCase() : key;
}

function rows(scope: Scope): Shortcut[] {
  return GROUPS.filter((group) => group.scope === scope).flatMap((group) => group.rows);
}

/** Give a shortcut another key. What has that key already, if anything; then nothing changes. */
export function choose(scope: Scope, id: string, key: string): Shortcut | null {
  const taken = rows(scope).find((row) => row.id !== id && keyOf(scope, row.id) === key);
  if (taken) return taken;
  change({ ...chosen, [`${scope}.${id}`]: key });
  return null;
}

/** Back to the usual keys. */
export function resetShortcuts(): void {
  change({});
}

type Action = () => void;

/** Keys for `useKeys`: `actions` by the id of the shortcut; `shifted` with Shift held. */
export function bound(
  scope: Scope,
  actions: Record<string, Action>,
  shifted: Record<string, Action> = {},
): Keys {
  const keys: Keys = {};
  for (const [id, action] of Object.entries(actions)) keys[keyOf(scope, id)] = action;
  for (const [id, action] of Object.entries(shifted)) {
    const key = keyOf(scope, id);
    keys[`Shift+${key}`] = action;
    // On many keyboards Shift and a digit give a sign: `useKeys` names those by their place.
    if (/^\d$/.test(key)) keys[`Shift+Digit${key}`] = action;
  }
  return keys;
}
