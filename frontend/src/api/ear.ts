/** What is heard of a take, and what was to be played. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type BenchPage, type Schemas } from "./client";

export type Ear = Schemas["Ear"];
export type Aim = Schemas["AimInRequest"];

/** Of a take that is measured; which tone counts depends on the hold, what is suspected on
 * what stands. */
export function useEar({ take, phases, findings, observations }: BenchPage, wanted: boolean) {
  const holds = phases.filter((phase) => phase.name === "hold");
  return useQuery({
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
}

export function useAim(take: number) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: `ear-${take}` },
    onMutate: () => client.cancelQueries({ queryKey: ["ear", take] }),
    mutationFn: (body: Aim) =>
      data(api.PUT("/api/takes/{take_id}/ear/", { params: { path: { take_id: take } }, body })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["ear", take] }),
  });
}
