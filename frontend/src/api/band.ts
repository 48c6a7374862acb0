/** Writes to the whole band: class lists, consent for many, names, takes reviewed at once. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, data, sendForm, type Schemas } from "./client";
import { keys } from "./keys";

export type Roster = Schemas["Roster"];
export type RosterLine = Schemas["RosterLine"];

/** What the band shows is out of date then. */
function useRefresh() {
  const client = useQueryClient();
  return () =>
    Promise.all([
      client.invalidateQueries({ queryKey: keys.band }),
      client.invalidateQueries({ queryKey: keys.students }),
      client.invalidateQueries({ queryKey: keys.takes }),
    ]);
}

/** `dates`: whether day or month comes first in 3/4/2026; empty while nobody has said. */
export function useRoster() {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: ({ table, keep, dates }: { table: File; keep: boolean; dates: string }) =>
      sendForm<Roster>("/api/roster/", { table, keep: String(keep), dates }),
    onSuccess: (roster) => (roster.added + roster.changed > 0 ? refresh() : undefined),
  });
}

export function useSetConsent() {
  const onSuccess = useRefresh();
  return useMutation({
    mutationFn: (body: Schemas["ConsentInRequest"]) =>
      data(api.POST("/api/consent/", { body })),
    onSuccess,
  });
}

export function useRenameBand() {
  const onSuccess = useRefresh();
  return useMutation({
    mutationFn: (body: Schemas["BandNamesRequest"]) =>
      data(api.PUT("/api/band/names/", { body })),
    onSuccess,
  });
}

export function useMarkReviewed() {
  const onSuccess = useRefresh();
  return useMutation({
    mutationFn: (takes: number[]) =>
      data(api.POST("/api/takes/reviewed/", { body: { takes } })),
    onSuccess,
  });
}
