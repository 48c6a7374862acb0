/** Server state, in the query cache and nowhere else. */
import { useEffect } from "react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas, type StudentFacts, type TakeSummary } from "./client";
import { keys } from "./keys";
import type { TakeFacts } from "./upload";
import { t } from "../shared/words";

const POLL_MS = 1000;

export function busy(take: TakeSummary | null | undefined): boolean {
  return take?.state === "waiting" || take?.state === "working";
}

export function useSession() {
  return useQuery({
    queryKey: keys.session,
    queryFn: () => data(api.GET("/api/session/")),
    staleTime: Infinity,
  });
}

export function useBand() {
  return useQuery({
    queryKey: keys.band,
    queryFn: () => data(api.GET("/api/band/")),
    refetchInterval: ({ state }) =>
      state.data?.sections.some((s) => s.chairs.some((c) => busy(c.take))) ? POLL_MS : false,
  });
}

export function useStandards() {
  return useQuery({
    queryKey: keys.standards,
    queryFn: () => data(api.GET("/api/standards/")),
    staleTime: Infinity,
  });
}

export function useMeasures(wanted: boolean) {
  return useQuery({
    queryKey: keys.measures,
    queryFn: () => data(api.GET("/api/measures/")),
    staleTime: Infinity,
    enabled: wanted,
  });
}

export function useLandmarks() {
  return useQuery({
    queryKey: keys.landmarks,
    queryFn: () => data(api.GET("/api/landmarks/")),
    staleTime: Infinity,
  });
}

export function useHand() {
  return useQuery({ queryKey: keys.hand, queryFn: () => data(api.GET("/api/hand/")) });
}

export type HandMark = Schemas["HandMarkInRequest"];

export function useHandEdits() {
  const client = useQueryClient();
  const onSuccess = (stands: Schemas["Exercise"]) => client.setQueryData(keys.hand, stands);
  return {
    mark: useMutation({
      mutationFn: (body: HandMark) => data(api.PUT("/api/hand/", { body })),
      scope: { id: "hand" },
      onSuccess,
    }),
    forget: useMutation({
      mutationFn: () => data(api.DELETE("/api/hand/")),
      scope: { id: "hand" },
      onSuccess,
    }),
  };
}

export function useStudent(id: number) {
  return useQuery({
    queryKey: keys.student(id),
    queryFn: () =>
      data(api.GET("/api/students/{student_id}/", { params: { path: { student_id: id } } })),
    refetchInterval: ({ state }) => (state.data?.takes.some(busy) ? POLL_MS : false),
  });
}

export function useTake(id: number) {
  return useQuery({
    queryKey: keys.take(id),
    queryFn: () =>
      data(api.GET("/api/takes/{take_id}/", { params: { path: { take_id: id } } })),
    refetchInterval: ({ state }) => (busy(state.data?.take) ? POLL_MS : false),
  });
}

/** Ask for what an older engine, standard or school made to be made anew: once, and then again
 * for whatever has become out of date since. */
export function useFreshTakes(stale: readonly number[]) {
  const client = useQueryClient();
  const { mutate, isPending } = useMutation({
    scope: { id: "fresh-takes" },
    mutationFn: (ids: readonly number[]) =>
      Promise.all(
        ids.map((take_id) =>
          data(api.POST("/api/takes/{take_id}/refresh/", { params: { path: { take_id } } })),
        ),
      ),
    onSuccess: (pages) => {
      for (const page of pages) {
        client.setQueryData(keys.take(page.take.id), page);
        for (const queryKey of [
          keys.sound(page.take.id),
          keys.student(page.take.student),
          keys.thenAndNow(page.take.student),
        ])
          void client.invalidateQueries({ queryKey });
      }
      void client.invalidateQueries({ queryKey: keys.band });
    },
  });
  const wanted = stale.join(" ");
  useEffect(() => {
    if (wanted) mutate(wanted.split(" ").map(Number));
  }, [wanted, mutate]);
  return isPending;
}

export function useSaveStudent(id: number | null) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: StudentFacts) =>
      id === null
        ? data(api.POST("/api/students/", { body }))
        : data(
            api.PUT("/api/students/{student_id}/facts/", {
              params: { path: { student_id: id } },
              body,
            }),
          ),
    onSuccess: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: keys.band }),
        client.invalidateQueries({ queryKey: keys.students }),
        client.invalidateQueries({ queryKey: keys.takes }),
      ]),
  });
}

export function useCorrectTake(take: { id: number; student: number }) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ filmedOn, ...said }: TakeFacts & { student: number }) =>
      data(
        api.PUT("/api/takes/{take_id}/facts/", {
          params: { path: { take_id: take.id } },
          body: { ...said, filmed_on: filmedOn },
        }),
      ),
    onSuccess: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: keys.band }),
        client.invalidateQueries({ queryKey: keys.students }),
        client.invalidateQueries({ queryKey: keys.takes }),
      ]),
  });
}

export function useTakeActions(id: number) {
  const client = useQueryClient();
  const params = { path: { take_id: id } };
  return {
    reread: useMutation({
      mutationFn: () => data(api.POST("/api/takes/{take_id}/reread/", { params })),
      onSuccess: () => client.invalidateQueries({ queryKey: keys.take(id) }),
    }),
    keepDepth: useMutation({
      mutationFn: (keep: boolean) =>
        data(api.PUT("/api/takes/{take_id}/depth/", { params, body: { keep } })),
      onSuccess: (page) => {
        client.setQueryData(keys.take(id), page);
        return client.invalidateQueries({ queryKey: keys.student(page.take.student) });
      },
    }),
    importMarks: useMutation({
      mutationFn: (text: string) => {
        let body: Schemas["MarksFileRequest"];
        try {
          body = JSON.parse(text) as Schemas["MarksFileRequest"];
        } catch {
          throw new Error(t("This is not a marks file: it is not valid JSON."));
        }
        return data(api.PUT("/api/takes/{take_id}/marks/file/", { params, body }));
      },
      onSuccess: (page) => client.setQueryData(keys.take(id), page),
    }),
    remove: useMutation({
      mutationFn: () => data(api.DELETE("/api/takes/{take_id}/", { params })),
      onSuccess: () => {
        client.removeQueries({ queryKey: keys.take(id) });
        return Promise.all([
          client.invalidateQueries({ queryKey: keys.band }),
          client.invalidateQueries({ queryKey: keys.students }),
        ]);
      },
    }),
  };
}
