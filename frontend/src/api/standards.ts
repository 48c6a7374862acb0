/** A teacher's own standards: read, tried, saved. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "./client";
import { keys } from "./keys";

export type OwnStandard = Schemas["OwnStandard"];
export type StandardBand = Schemas["Band"];
export type Figures = Schemas["Edges"];
/** Figures of the bands that differ from the school's or the shipped ones, by band. */
export type Changes = Record<string, Figures>;
export type Drag = Schemas["DragRequest"];

export function useOwnStandard(instrument: string) {
  return useQuery({
    queryKey: keys.standard(instrument),
    queryFn: () =>
      data(api.GET("/api/standards/{instrument}/", { params: { path: { instrument } } })),
  });
}

interface Zones {
  instrument: string;
  bands: Changes;
  school: string;
  view: "front" | "side";
}

/** The zones on a plain face by these figures. */
export function useZones({ instrument, ...body }: Zones) {
  return useQuery({
    queryKey: keys.zones(instrument, body),
    queryFn: () => zones(instrument, { ...body, drag: null }),
    placeholderData: keepPreviousData,
  });
}

export function zones(instrument: string, body: Schemas["ZonesInRequest"]) {
  return data(
    api.POST("/api/standards/{instrument}/zones/", { params: { path: { instrument } }, body }),
  );
}

/** What these figures would change in the stored takes. */
export function useEffectOf(instrument: string, bands: Changes, school: string) {
  return useQuery({
    queryKey: keys.effect(instrument, bands, school),
    queryFn: () =>
      data(
        api.POST("/api/standards/{instrument}/effect/", {
          params: { path: { instrument } },
          body: { bands, school, words: "" },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** What hangs on a standard is asked for again. */
function useSaved(instrument: string) {
  const client = useQueryClient();
  return (saved: OwnStandard) => {
    client.setQueryData(keys.standard(instrument), saved);
    for (const queryKey of [keys.effects, keys.band, keys.students, keys.takes, keys.allPlans])
      void client.invalidateQueries({ queryKey });
  };
}

export function useSaveStandard(instrument: string) {
  return useMutation({
    mutationFn: (body: { bands: Changes; words: string; school: string }) =>
      data(api.PUT("/api/standards/{instrument}/", { params: { path: { instrument } }, body })),
    onSuccess: useSaved(instrument),
  });
}

/** Limits for all teachers of the school: an administrator's own, or none (null). */
export function useShareStandard(instrument: string) {
  const params = { path: { instrument } };
  return useMutation({
    mutationFn: (words: string | null) =>
      data(
        words === null
          ? api.DELETE("/api/standards/{instrument}/shared/", { params })
          : api.PUT("/api/standards/{instrument}/shared/", { params, body: { words } }),
      ),
    onSuccess: useSaved(instrument),
  });
}
