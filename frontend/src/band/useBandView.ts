/** How the band is looked at: in the address, so that Back and a bookmark keep it. */
import { useEffect, useState } from "react";
import { useLocation, useSearchParams } from "react-router";
import { ALL, type Filter } from "./filters";

export type Sort = "section" | "name" | "instrument" | "state" | "take";
export type Kind = "plan" | "list";

interface Stand {
  filter: Filter;
  kind: Kind | null;
  sort: Sort;
  down: boolean;
  folded: string[];
}

export interface BandView extends Stand {
  setFilter: (filter: Filter) => void;
  setKind: (kind: Kind) => void;
  /** Sort by a column; the same one again turns it round. */
  sortBy: (sort: Sort) => void;
  fold: (section: string) => void;
}

/** What an address says that was written here. */
const OWN = "band-view";
const SORTS: readonly Sort[] = ["section", "name", "instrument", "state", "take"];

function read(params: URLSearchParams): Stand {
  const filter: Record<string, string> = {};
  for (const name of Object.keys(ALL)) filter[name] = params.get(name) ?? "";
  const kind = params.get("view");
  return {
    filter: { ...ALL, ...filter },
    kind: kind === "plan" || kind === "list" ? kind : null,
    sort: SORTS.find((one) => one === params.get("sort")) ?? "section",
    down: params.has("down"),
    folded: params.getAll("folded"),
  };
}

function written({ filter, kind, sort, down, folded }: Stand): string {
  const params = new URLSearchParams();
  for (const [name, value] of Object.entries(filter)) if (value) params.set(name, value);
  if (kind) params.set("view", kind);
  if (sort !== "section") params.set("sort", sort);
  if (down) params.set("down", "1");
  for (const section of folded) params.append("folded", section);
  return params.toString();
}

export function useBandView(): BandView {
  const [params, setParams] = useSearchParams();
  const { key, state } = useLocation();
  // The address follows: it is written too late to be typed into.
  const [stand, setStand] = useState(() => read(params));
  const [seen, setSeen] = useState(key);
  if (key !== seen) {
    // By a link or Back it leads.
    setSeen(key);
    if (state !== OWN) setStand(read(params));
  }
  const address = written(stand);
  useEffect(() => {
    if (address !== params.toString()) setParams(address, { replace: true, state: OWN });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only what is set here is written
  }, [address]);
  const change = (part: Partial<Stand>) => setStand((before) => ({ ...before, ...part }));
  return {
    ...stand,
    setFilter: (filter) => change({ filter }),
    setKind: (kind) => change({ kind }),
    sortBy: (sort) => change({ sort, down: sort === stand.sort && !stand.down }),
    fold: (section) =>
      change({
        folded: stand.folded.includes(section)
          ? stand.folded.filter((one) => one !== section)
          : [...stand.folded, section],
      }),
  };
}
