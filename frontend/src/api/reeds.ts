/** Reed boxes: what is in them, what was played, what to buy. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "./client";
import { keys } from "./keys";

export type Box = Schemas["Box"];
export type Reed = Schemas["Reed"];
export type Habits = Schemas["HabitsRequest"];
export type Condition = Reed["condition"];

export function useReedBox(student: number, wanted: boolean) {
  return useQuery({
    queryKey: keys.reeds(student),
    enabled: wanted,
    queryFn: () =>
      data(
        api.GET("/api/students/{student_id}/reeds/", {
          params: { path: { student_id: student } },
        }),
      ),
  });
}

export function useReedBoxes() {
  return useQuery({ queryKey: keys.reedBoxes, queryFn: () => data(api.GET("/api/reeds/")) });
}

export function useReedEdits(student: number) {
  const client = useQueryClient();
  const after = {
    scope: { id: `reeds-${student}` },
    // An answer that is on its way shows the box as it was before.
    onMutate: () => client.cancelQueries({ queryKey: keys.reeds(student) }),
    onSuccess: (box: Box) => {
      client.setQueryData(keys.reeds(student), box);
      void client.invalidateQueries({ queryKey: keys.reedBoxes });
      // What is known of the reed says what to look at first.
      void client.invalidateQueries({ queryKey: keys.takes });
      void client.invalidateQueries({ queryKey: keys.band });
    },
  };
  return {
    add: useMutation({
      ...after,
      mutationFn: (body: Schemas["ReedInRequest"]) =>
        data(
          api.POST("/api/students/{student_id}/reeds/", {
            params: { path: { student_id: student } },
            body,
          }),
        ),
    }),
    change: useMutation({
      ...after,
      mutationFn: ({ id, ...body }: { id: number } & Schemas["ReedInRequest"]) =>
        data(api.PUT("/api/reeds/{reed_id}/", { params: { path: { reed_id: id } }, body })),
    }),
    played: useMutation({
      ...after,
      mutationFn: ({ id, minutes }: { id: number; minutes: number | null }) =>
        data(
          api.POST("/api/reeds/{reed_id}/", {
            params: { path: { reed_id: id } },
            body: { minutes, date: null },
          }),
        ),
    }),
  };
}

export function useSetHabits() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Habits) => data(api.PUT("/api/reeds/", { body })),
    onSuccess: (boxes) => {
      client.setQueryData(keys.reedBoxes, boxes);
      void client.invalidateQueries({ queryKey: keys.allReeds });
    },
  });
}
