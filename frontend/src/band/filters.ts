/** Which students are shown: by name, section, instrument, focus, and what waits. */
import type { BandPage, Chair } from "../api/client";
import { t } from "../shared/words";

export interface Filter {
  text: string;
  section: string;
  instrument: string;
  focus: string;
  waits: "" | "due" | "new" | "unfilmed";
}

export const ALL: Filter = { text: "", section: "", instrument: "", focus: "", waits: "" };

export const WAITS: Record<Exclude<Filter["waits"], "">, string> = {
  due: t("recheck due"),
  new: t("take to review"),
  unfilmed: t("not filmed"),
};

const STATES: Record<Exclude<Filter["waits"], "">, Chair["state"][]> = {
  due: ["recheck-due"],
  new: ["new-take", "needs-marks"],
  unfilmed: ["nothing-filmed", "no-consent"],
};

export function fits(chair: Chair, section: string, filter: Filter): boolean {
  const name = plain(chair.name);
  return (
    plain(filter.text)
      .split(" ")
      .every((word) => name.includes(word)) &&
    (!filter.section || section === filter.section) &&
    (!filter.instrument || chair.instrument === filter.instrument) &&
    (!filter.focus || chair.focus === filter.focus) &&
    (!filter.waits || STATES[filter.waits].includes(chair.state))
  );
}

/** Without accents and capitals: who types "nunez" finds Nuñez. */
function plain(words: string): string {
  return words.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase().trim();
}

/** The sections with the chairs that fit; a section without one is left out. */
export function filtered(sections: BandPage["sections"], filter: Filter): BandPage["sections"] {
  return sections
    .map((section) => ({
      ...section,
      chairs: section.chairs.filter((chair) => fits(chair, section.name, filter)),
    }))
    .filter((section) => section.chairs.length > 0);
}

/** What can be chosen: id and words, as often as it is there. */
export function choices(sections: BandPage["sections"], named: (instrument: string) => string) {
  const chairs = sections.flatMap((s) => s.chairs);
  const foci = new Map<string, string>();
  for (const { focus, focus_name } of chairs)
    if (focus !== null && focus_name !== null) foci.set(focus, focus_name);
  return {
    sections: sections.map((s) => [s.name, s.name] as const),
    instruments: [...new Set(chairs.map((c) => c.instrument))].map(
      (one) => [one, named(one)] as const,
    ),
    foci: [...foci].sort((a, b) => a[1].localeCompare(b[1])),
  };
}
