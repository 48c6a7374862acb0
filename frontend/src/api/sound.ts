/** What is heard of a take, and what was to be played. */
import { useEffect } from "react";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type BenchPage, type Schemas } from "./client";
import { keys } from "./keys";

export type Sound = Schemas["SoundPage"];
export type IntendedNote = Schemas["IntendedNoteInRequest"];
export type HeardExercise = Schemas["HeardExercise"];

/** Of a take that is measured; which tone counts depends on the hold, what is suspected on
 * what stands. A take that nobody has listened to is listened to now, and then judged anew. */
export function useSound(page: BenchPage, wanted: boolean) {
  const { take, phases, findings, observations } = page;
  const client = useQueryClient();
  const params = { path: { take_id: take.id } };
  const enabled = wanted && take.state === "ready";
  const sound = useQuery({
    queryKey: keys.soundOf(
      take.id,
      phases
        .filter((phase) => phase.name === "hold")
        .map(({ start, end }) => [start, end] as const),
      findings.map(({ fault }) => fault),
      observations.filter(({ seen }) => seen).map(({ id }) => id),
    ),
    enabled,
    placeholderData: keepPreviousData,
    queryFn: () => data(api.GET("/api/takes/{take_id}/sound/", { params })),
  });
  const listen = useMutation({
    scope: { id: `sound-${take.id}` },
    mutationFn: () => data(api.POST("/api/takes/{take_id}/sound/", { params })),
    onSuccess: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: keys.sound(take.id) }),
        client.invalidateQueries({ queryKey: keys.take(take.id) }),
      ]),
  });
  const { mutate, isIdle } = listen;
  const stale = enabled && sound.data?.stale === true;
  useEffect(() => {
    if (stale && isIdle) mutate();
  }, [stale, isIdle, mutate]);
  // What nobody has listened to says nothing yet.
  return sound.data?.stale ? undefined : sound.data;
}

/** Exercises as they were played on a take: what was asked for, else the likeliest. */
export function useExercises(take: number) {
  return useQuery({
    queryKey: keys.exercises(take),
    queryFn: () =>
      data(api.GET("/api/takes/{take_id}/exercises/", { params: { path: { take_id: take } } })),
  });
}

export function useIntendedNote(take: number) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: `sound-${take}` },
    onMutate: () => client.cancelQueries({ queryKey: keys.sound(take) }),
    mutationFn: (body: IntendedNote) =>
      data(
        api.PUT("/api/takes/{take_id}/sound/", { params: { path: { take_id: take } }, body }),
      ),
    onSuccess: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: keys.sound(take) }),
        client.invalidateQueries({ queryKey: keys.take(take) }),
      ]),
  });
}
