/** Plans of a student: read, begun, practised, rechecked. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "./client";
import { keys } from "./keys";

export type Stage = Schemas["Plan"]["stage"];
type Plans = Schemas["StudentPlans"];
export type SchoolDays = Schemas["SchoolDays"];

export function usePlans(student: number) {
  return useQuery({
    queryKey: keys.plans(student),
    queryFn: () =>
      data(
        api.GET("/api/students/{student_id}/plans/", {
          params: { path: { student_id: student } },
        }),
      ),
  });
}

export function usePlanEdits(student: number) {
  const client = useQueryClient();
  const after = {
    scope: { id: `plans-${student}` },
    // An answer that is on its way shows the plans as they were before.
    onMutate: () => client.cancelQueries({ queryKey: keys.plans(student) }),
    onSuccess: (plans: Plans) => {
      client.setQueryData(keys.plans(student), plans);
      void client.invalidateQueries({ queryKey: keys.band });
      void client.invalidateQueries({ queryKey: keys.student(student) });
      void client.invalidateQueries({ queryKey: keys.takes });
    },
  };
  return {
    start: useMutation({
      ...after,
      mutationFn: ({ take, ...body }: { take: number } & Schemas["PlanInRequest"]) =>
        data(
          api.POST("/api/takes/{take_id}/plan/", { params: { path: { take_id: take } }, body }),
        ),
    }),
    practise: useMutation({
      ...after,
      mutationFn: ({ plan, ...body }: { plan: number; date: string; done: boolean }) =>
        data(api.PUT("/api/plans/{plan_id}/", { params: { path: { plan_id: plan } }, body })),
    }),
    accept: useMutation({
      ...after,
      mutationFn: (recheck: number) =>
        data(
          api.POST("/api/rechecks/{recheck_id}/", {
            params: { path: { recheck_id: recheck } },
          }),
        ),
    }),
    stop: useMutation({
      ...after,
      mutationFn: (plan: number) =>
        data(api.DELETE("/api/plans/{plan_id}/", { params: { path: { plan_id: plan } } })),
    }),
    resume: useMutation({
      ...after,
      mutationFn: (plan: number) =>
        data(api.POST("/api/plans/{plan_id}/", { params: { path: { plan_id: plan } } })),
    }),
  };
}

export function useSchoolDays() {
  return useQuery({
    queryKey: keys.schoolDays,
    queryFn: () => data(api.GET("/api/school-days/")),
  });
}

export function useSetSchoolDays() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: SchoolDays) => data(api.PUT("/api/school-days/", { body })),
    onSuccess: (days) => {
      client.setQueryData(keys.schoolDays, days);
      void client.invalidateQueries({ queryKey: keys.allPlans });
      void client.invalidateQueries({ queryKey: keys.band });
    },
  });
}
