/** Close-ups of reeds: the photo, its marks, and what they tell. */
import { useEffect } from "react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, sendForm, type Schemas } from "./client";
import { keys } from "./keys";

export type CloseUp = Schemas["CloseUp"];
export type CloseUpRow = Schemas["CloseUpRow"];
export type CloseUpFinding = Schemas["CloseUpFinding"];
export type EquipmentDrawing = Schemas["EquipmentDrawing"];
export type Placed = Schemas["CloseUpPlacedInRequest"];

export function useCloseUps(student: number) {
  return useQuery({
    queryKey: keys.closeUps(student),
    queryFn: () =>
      data(
        api.GET("/api/students/{student_id}/close-ups/", {
          params: { path: { student_id: student } },
        }),
      ),
  });
}

/** One close-up; what an older engine measured is measured anew. */
export function useCloseUp(id: number) {
  const client = useQueryClient();
  const params = { path: { close_up_id: id } };
  const page = useQuery({
    queryKey: keys.closeUp(id),
    queryFn: () => data(api.GET("/api/close-ups/{close_up_id}/", { params })),
  });
  const { mutate } = useMutation({
    mutationFn: () => data(api.POST("/api/close-ups/{close_up_id}/refresh/", { params })),
    onSuccess: (fresh) => client.setQueryData(keys.closeUp(id), fresh),
  });
  const stale = page.data?.stale;
  useEffect(() => {
    if (stale) mutate();
  }, [stale, mutate]);
  return page;
}

/** Sends the photo; the answer is its page. */
export function useAddCloseUp(student: number) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (photo: File) =>
      sendForm<CloseUp>(`/api/students/${student}/close-ups/`, { photo }),
    onSuccess: (page) => {
      client.setQueryData(keys.closeUp(page.id), page);
      void client.invalidateQueries({ queryKey: keys.closeUps(student) });
    },
  });
}

export function useCloseUpEdits(id: number) {
  const client = useQueryClient();
  const path = { close_up_id: id };
  const after = {
    scope: { id: `close-up-${id}` },
    // An answer that is on its way shows the marks as they were before.
    onMutate: () => client.cancelQueries({ queryKey: keys.closeUp(id) }),
    onSuccess: (page: CloseUp) => {
      client.setQueryData(keys.closeUp(id), page);
      void client.invalidateQueries({ queryKey: keys.closeUps(page.student) });
      // What the reed is like says what to look at first on a take.
      for (const queryKey of [keys.allReeds, keys.reedBoxes, keys.takes, keys.band])
        void client.invalidateQueries({ queryKey });
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
      onSuccess: () => client.invalidateQueries({ queryKey: keys.allCloseUps }),
    }),
  };
}
