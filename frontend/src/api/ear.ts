/** What is heard of a take, and what was to be played. */
import { useEffect } from "react";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type BenchPage, type Schemas } from "./client";

export type Ear = Schemas["Ear"];
export type Aim = Schemas["AimInRequest"];
export type DrillHeard = Schemas["DrillHeard"];

/** Of a take that is measured; which tone counts depends on the hold, what is suspected on
 * what stands. Listened to for the first time, the take itself is judged anew. */
export function useEar(page: BenchPage, wanted: boolean) {
  const { take, phases, findings, observations } = page;
  const client = useQueryClient();
  const holds = phases.filter((phase) => phase.name === "hold");
  const ear = useQuery({
    queryKey: [
      "ear",
      take.id,
      holds.map(({ start, end }) => [start, end]),
      findings.map(({ fault }) => fault),
      observations.filter(({ seen }) => seen).map(({ id }) => id),
    ],
    enabled: wanted && take.state === "ready",
    placeholderData: keepPreviousData,
    queryFn: () =>
      data(api.GET("/api/takes/{take_id}/ear/", { params: { path: { take_id: take.id } } })),
  });
  const isNew = !!ear.data?.tone && page.tone.length === 0;
  useEffect(() => {
    if (isNew) void client.invalidateQueries({ queryKey: ["take", take.id] });
  }, [client, isNew, take.id]);
  return ear;
}

/** The plan's drills as they are heard on a take. */
export function useDrillsHeard(take: number) {
  return useQuery({
    queryKey: ["ear", take, "drills"],
    queryFn: () =>
      data(api.GET("/api/takes/{take_id}/drills/", { params: { path: { take_id: take } } })),
  });
}

export function useAim(take: number) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: `ear-${take}` },
    onMutate: () => client.cancelQueries({ queryKey: ["ear", take] }),
    mutationFn: (body: Aim) =>
      data(api.PUT("/api/takes/{take_id}/ear/", { params: { path: { take_id: take } }, body })),
    onSuccess: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: ["ear", take] }),
        client.invalidateQueries({ queryKey: ["take", take] }),
      ]),
  });
}
