/** Writes to the whole band: class lists, consent for many, names, takes reviewed at once. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
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

export type BandRow = Schemas["BandRow"];

export function useBands() {
  return useQuery({ queryKey: keys.bands, queryFn: () => data(api.GET("/api/bands/")) });
}

/** Adding, opening, archiving and deleting bands; each answers with all of them. */
export function useBandEdits() {
  const client = useQueryClient();
  const refresh = useRefresh();
  const onSuccess = (bands: BandRow[]) => {
    client.setQueryData(keys.bands, bands);
    return refresh();
  };
  const params = (band_id: number) => ({ params: { path: { band_id } } });
  return {
    add: useMutation({
      mutationFn: (body: Schemas["NewBandRequest"]) => data(api.POST("/api/bands/", { body })),
      onSuccess,
    }),
    choose: useMutation({
      mutationFn: ({ id, what }: { id: number; what: "show" | "archive" }) =>
        data(api.PUT("/api/bands/{band_id}/", { ...params(id), body: { do: what } })),
      onSuccess,
    }),
    remove: useMutation({
      mutationFn: (id: number) => data(api.DELETE("/api/bands/{band_id}/", params(id))),
      onSuccess,
    }),
  };
}
