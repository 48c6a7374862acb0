/** Server state, in the query cache and nowhere else. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import {
  api,
  data,
  type BenchPage,
  type Schemas,
  type StudentFacts,
  type TakeSummary,
} from "./client";

const POLL_MS = 1000;

export function busy(take: TakeSummary | null | undefined): boolean {
  return take?.state === "waiting" || take?.state === "working";
}

export function useSession() {
  return useQuery({
    queryKey: ["session"],
    queryFn: () => data(api.GET("/api/session/")),
    staleTime: Infinity,
  });
}

export function useBand() {
  return useQuery({
    queryKey: ["band"],
    queryFn: () => data(api.GET("/api/band/")),
    refetchInterval: ({ state }) =>
      state.data?.sections.some((s) => s.chairs.some((c) => busy(c.take))) ? POLL_MS : false,
  });
}

export function useStandards() {
  return useQuery({
    queryKey: ["standards"],
    queryFn: () => data(api.GET("/api/standards/")),
    staleTime: Infinity,
  });
}

export function useLandmarks() {
  return useQuery({
    queryKey: ["landmarks"],
    queryFn: () => data(api.GET("/api/landmarks/")),
    staleTime: Infinity,
  });
}

export function useHand() {
  return useQuery({ queryKey: ["hand"], queryFn: () => data(api.GET("/api/hand/")) });
}

export type HandMark = Schemas["HandMarkInRequest"];

export function useHandEdits() {
  const client = useQueryClient();
  const onSuccess = (stands: Schemas["Exercise"]) => client.setQueryData(["hand"], stands);
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
    queryKey: ["student", id],
    queryFn: () =>
      data(api.GET("/api/students/{student_id}/", { params: { path: { student_id: id } } })),
    refetchInterval: ({ state }) => (state.data?.takes.some(busy) ? POLL_MS : false),
  });
}

export function useTake(id: number) {
  return useQuery({
    queryKey: ["take", id],
    queryFn: () =>
      data(api.GET("/api/takes/{take_id}/", { params: { path: { take_id: id } } })),
    refetchInterval: ({ state }) => (busy(state.data?.take) ? POLL_MS : false),
  });
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
        client.invalidateQueries({ queryKey: ["band"] }),
        client.invalidateQueries({ queryKey: ["student"] }),
        client.invalidateQueries({ queryKey: ["take"] }),
      ]),
  });
}

/** Every edit of a take answers with the whole Bench as it then stands. */
function useTakeEdit<V>(id: number, edit: (value: V) => Promise<BenchPage>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: edit,
    // One after the other: two edits of one take never overtake each other.
    scope: { id: `take-${id}` },
    onSuccess: (page) => {
      client.setQueryData(["take", id], page);
      void client.invalidateQueries({ queryKey: ["band"] });
      void client.invalidateQueries({ queryKey: ["student", page.take.student] });
    },
  });
}

export interface MarkPlace {
  landmark: string;
  frame: number;
  x: number;
  y: number;
  hidden: boolean;
}

export function useTakeEdits(id: number) {
  const client = useQueryClient();
  const params = { path: { take_id: id } };
  return {
    placeMark: useTakeEdit(id, (body: MarkPlace) =>
      data(api.PUT("/api/takes/{take_id}/marks/", { params, body })),
    ),
    removeMark: useTakeEdit(id, (query: { landmark: string; frame: number }) =>
      data(api.DELETE("/api/takes/{take_id}/marks/", { params: { ...params, query } })),
    ),
    setPhases: useTakeEdit(
      id,
      (phases: { name: BenchPage["phases"][number]["name"]; start: number; end: number }[]) =>
        data(api.PUT("/api/takes/{take_id}/phases/", { params, body: { phases } })),
    ),
    setLength: useTakeEdit(id, (known_mm: number | null) =>
      data(api.PUT("/api/takes/{take_id}/scale/", { params, body: { known_mm } })),
    ),
    decide: useTakeEdit(
      id,
      (body: {
        fault: string;
        phase: string;
        answer: "confirmed" | "dismissed" | "";
        reason: string;
      }) => data(api.PUT("/api/takes/{take_id}/decisions/", { params, body })),
    ),
    setRead: useTakeEdit(id, (read: boolean) =>
      data(api.PATCH("/api/takes/{take_id}/", { params, body: { read } })),
    ),
    lookAgain: useMutation({
      mutationFn: () => data(api.POST("/api/takes/{take_id}/look-again/", { params })),
      onSuccess: () => client.invalidateQueries({ queryKey: ["take", id] }),
    }),
    remove: useMutation({
      mutationFn: () => api.DELETE("/api/takes/{take_id}/", { params }),
      onSuccess: () => {
        client.removeQueries({ queryKey: ["take", id] });
        return Promise.all([
          client.invalidateQueries({ queryKey: ["band"] }),
          client.invalidateQueries({ queryKey: ["student"] }),
        ]);
      },
    }),
  };
}
