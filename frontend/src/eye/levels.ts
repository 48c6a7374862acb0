/** What the levels of a round are called on its own page. */
import type { Level } from "../api/eye";

export const LEVELS: Record<Level, string> = {
  clear: "clear faults",
  slight: "slight faults",
  "look-alikes": "look-alikes",
  mixed: "everything, two at once too",
};
