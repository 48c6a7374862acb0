/** Close-ups of reeds: the photo, its marks, and what they tell. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, sendForm, type Schemas } from "./client";

export type CloseUp = Schemas["CloseUp"];
export type CloseUpRow = Schemas["CloseUpRow"];
export type CloseUpFinding = Schemas["CloseUpFinding"];
export type EquipmentDrawing = Schemas["EquipmentDrawing"];
export type Placed = Schemas["CloseUpPlacedInRequest"];

export function useCloseUps(student: number) {
  return useQuery({
    queryKey: ["close-ups", student],
    queryFn: () =>
      data(
        api.GET("/api/students/{student_id}/close-ups/", {
          params: { path: { student_id: student } },
        }),
      ),
  });
}

export function useCloseUp(id: number) {
  return useQuery({
    queryKey: ["close-up", id],
    queryFn: () =>
      data(api.GET("/api/close-ups/{close_up_id}/", { params: { path: { close_up_id: id } } })),
  });
}

/** Sends the photo; the answer is its page. */
export function useAddCloseUp(student: number) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (photo: File) =>
      sendForm<CloseUp>(`/api/students/${student}/close-ups/`, { photo }),
    onSuccess: (page) => {
      client.setQueryData(["close-up", page.id], page);
      void client.invalidateQueries({ queryKey: ["close-ups", student] });
    },
  });
}

export function useCloseUpEdits(id: number) {
  const client = useQueryClient();
  const path = { close_up_id: id };
  const after = {
    scope: { id: `close-up-${id}` },
    // An answer that is on its way shows the marks as they were before.
    onMutate: () => client.cancelQueries({ queryKey: ["close-up", id] }),
    onSuccess: (page: CloseUp) => {
      client.setQueryData(["close-up", id], page);
      void client.invalidateQueries({ queryKey: ["close-ups", page.student] });
      // What the reed is like says what to look at first on a take.
      for (const key of ["reeds", "reed-boxes", "take", "band"])
        void client.invalidateQueries({ queryKey: [key] });
    },
  };
  return {
    mark: useMutation({
      ...after,
      mutationFn: (body: Placed) =>
        data(api.PUT("/api/close-ups/{close_up_id}/", { params: { path }, body })),
    }),
    which: useMutation({
      ...after,
      mutationFn: (reed: number | null) =>
        data(
          api.PUT("/api/close-ups/{close_up_id}/reed/", { params: { path }, body: { reed } }),
        ),
    }),
    answer: useMutation({
      ...after,
      mutationFn: (body: Schemas["CloseUpAnswerRequest"]) =>
        data(api.PUT("/api/close-ups/{close_up_id}/answer/", { params: { path }, body })),
    }),
    remove: useMutation({
      mutationFn: () => data(api.DELETE("/api/close-ups/{close_up_id}/", { params: { path } })),
      onSuccess: () => client.invalidateQueries({ queryKey: ["close-ups"] }),
    }),
  };
}
