/** Lessons: the ladder, drills and routines, and what was given without a fault. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "./client";
import { keys } from "./keys";

export type Board = Schemas["Board"];
export type BoardRow = Schemas["BoardRow"];
export type LadderPage = Schemas["LadderPage"];
export type StepCard = Schemas["StepCard"];
export type DrillCard = Schemas["DrillCard"];
export type Routine = Schemas["RoutineRow"];
export type Target = Schemas["TargetNote"];
export type GivenRow = Schemas["GivenRow"];
export type Give = Schemas["GiveInRequest"];
export type Move = Schemas["MoveInRequest"];

export function useBoard() {
  return useQuery({ queryKey: keys.ladders, queryFn: () => data(api.GET("/api/lessons/")) });
}

export function useLadder(student: number | null) {
  return useQuery({
    queryKey: keys.ladder(student ?? 0),
    enabled: student !== null,
    queryFn: () =>
      data(
        api.GET("/api/students/{student_id}/ladder/", {
          params: { path: { student_id: student ?? 0 } },
        }),
      ),
  });
}

export function useLibrary() {
  return useQuery({
    queryKey: keys.library,
    queryFn: () => data(api.GET("/api/drills/")),
    staleTime: Infinity,
  });
}

/** Passing steps, going back, saying what is heard: several students at once. */
export function useMoves() {
  const client = useQueryClient();
  return useMutation({
    scope: { id: "ladder" },
    mutationFn: (body: Move) => data(api.POST("/api/lessons/", { body })),
    onSuccess: (board) => {
      client.setQueryData(keys.ladders, board);
      void client.invalidateQueries({ queryKey: keys.oneLadder });
    },
  });
}

export function useSetUp(student: number) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: "ladder" },
    mutationFn: (body: Schemas["StandingInRequest"]) =>
      data(
        api.PUT("/api/students/{student_id}/ladder/", {
          params: { path: { student_id: student } },
          body,
        }),
      ),
    onSuccess: (page) => {
      client.setQueryData(keys.ladder(student), page);
      void client.invalidateQueries({ queryKey: keys.ladders });
    },
  });
}

/** Giving, ticking, doing again and taking back. */
export function useGiven() {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.oneLadder });
  const params = (given_id: number) => ({ params: { path: { given_id } } });
  return {
    give: useMutation({
      mutationFn: (body: Give) => data(api.POST("/api/given/", { body })),
      onSuccess,
    }),
    tick: useMutation({
      mutationFn: ({ id, ...body }: { id: number; date: string; done: boolean }) =>
        data(api.PUT("/api/given/{given_id}/", { ...params(id), body })),
      onSuccess,
    }),
    again: useMutation({
      mutationFn: ({ id, why }: { id: number; why: string }) =>
        data(api.POST("/api/given/{given_id}/", { ...params(id), body: { why } })),
      onSuccess,
    }),
    rise: useMutation({
      mutationFn: (id: number) => data(api.PATCH("/api/given/{given_id}/", params(id))),
      onSuccess,
    }),
    takeBack: useMutation({
      mutationFn: (id: number) => data(api.DELETE("/api/given/{given_id}/", params(id))),
      onSuccess,
    }),
  };
}
