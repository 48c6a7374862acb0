/** A standard while it is being changed: another page does not lose it, only saving ends it. */
import { useEffect, useState } from "react";
import type { Changes, OwnStandard, StandardBand } from "../api/standards";

interface Draft {
  changes: Changes;
  /** The embouchure style used for students without one of their own. */
  own: string;
  words: string;
}

/** What was begun on a version of a standard and not saved yet. */
const drafts = new Map<string, Draft>();

/** The figures that the teacher has changed already. */
function changesOf(standard: OwnStandard): Changes {
  return Object.fromEntries(
    standard.bands.filter((b) => b.changed).map((b) => [b.key, figuresOf(b)]),
  );
}

function figuresOf({ low, high, watch_low, watch_high }: StandardBand) {
  return { low, high, watch_low, watch_high };
}

export function useDraft(standard: OwnStandard) {
  const saved: Draft = {
    changes: changesOf(standard),
    own: standard.schools[0]?.id ?? "",
    words: "",
  };
  const [draft, setDraft] = useState(() => drafts.get(standard.version) ?? saved);
  const edited =
    draft.own !== saved.own || JSON.stringify(draft.changes) !== JSON.stringify(saved.changes);
  useEffect(() => {
    if (edited) drafts.set(standard.version, draft);
    else drafts.delete(standard.version);
  }, [edited, draft, standard.version]);
  useEffect(() => {
    if (!edited) return;
    // Another page of Sulvet keeps the draft; closing the window would lose it.
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [edited]);
  return {
    ...draft,
    edited,
    usual: saved.own,
    set: (part: Partial<Draft>) => setDraft((now) => ({ ...now, ...part })),
    reset: () => setDraft(saved),
  };
}
