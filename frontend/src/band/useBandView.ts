/** How the band is looked at: in the address, so that Back and a bookmark keep it. */
import { useSearchParams } from "react-router";
import { ALL, type Filter } from "./filters";

export type Sort = "section" | "name" | "instrument" | "state" | "take";
export type Kind = "plan" | "list";

export interface BandView {
  filter: Filter;
  setFilter: (filter: Filter) => void;
  kind: Kind | null;
  setKind: (kind: Kind) => void;
  sort: Sort;
  down: boolean;
  /** Sort by a column; the same one again turns it round. */
  sortBy: (sort: Sort) => void;
  folded: string[];
  fold: (section: string) => void;
}

const SORTS: readonly Sort[] = ["section", "name", "instrument", "state", "take"];

export function useBandView(): BandView {
  const [params, setParams] = useSearchParams();
  const change = (part: Record<string, string>) =>
    setParams(
      (before) => {
        const after = new URLSearchParams(before);
        for (const [name, value] of Object.entries(part))
          if (value) after.set(name, value);
          else after.delete(name);
        return after;
      },
      { replace: true },
    );
  const filter = { ...ALL };
  for (const name of Object.keys(ALL) as (keyof Filter)[])
    (filter as Record<string, string>)[name] = params.get(name) ?? "";
  const kind = params.get("view");
  const sort = SORTS.find((one) => one === params.get("sort")) ?? "section";
  const down = params.get("down") !== null;
  const folded = params.getAll("folded");
  return {
    filter,
    setFilter: (next) => change({ ...next }),
    kind: kind === "plan" || kind === "list" ? kind : null,
    setKind: (next) => change({ view: next }),
    sort,
    down,
    sortBy: (next) => change({ sort: next, down: next === sort && !down ? "1" : "" }),
    folded,
    fold: (section) =>
      setParams(
        (before) => {
          const after = new URLSearchParams(before);
          after.delete("folded");
          const next = folded.includes(section)
            ? folded.filter((one) => one !== section)
            : [...folded, section];
          for (const one of next) after.append("folded", one);
          return after;
        },
        { replace: true },
      ),
  };
}
