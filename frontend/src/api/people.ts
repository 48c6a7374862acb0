/** Accounts, invitations, standing in for a teacher, and the second factor. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "./client";
import { keys } from "./keys";

export type People = Schemas["People"];
export type Invitation = Schemas["InvitationRow"];
export type Account = Schemas["AccountRow"];
export type GivenUp = Schemas["GivenUp"];
export type Session = Schemas["Session"];

export function usePeople() {
  return useQuery({ queryKey: keys.people, queryFn: () => data(api.GET("/api/people/")) });
}

export function usePeopleEdits() {
  const client = useQueryClient();
  const onSuccess = (people: People) => client.setQueryData(keys.people, people);
  return {
    invite: useMutation({
      mutationFn: (body: Schemas["InvitationInRequest"]) =>
        data(api.POST("/api/invitations/", { body })),
      onSuccess,
    }),
    end: useMutation({
      mutationFn: (number: number) =>
        data(api.DELETE("/api/invitations/{number}/", { params: { path: { number } } })),
      onSuccess,
    }),
    set: useMutation({
      mutationFn: ({ id, active, administrator }: Account) =>
        data(
          api.PUT("/api/people/{number}/", {
            params: { path: { number: id } },
            body: { active, administrator },
          }),
        ),
      onSuccess,
    }),
  };
}

export function useSchool() {
  return useQuery({ queryKey: keys.school, queryFn: () => data(api.GET("/api/school/")) });
}

export function useSchoolEdits() {
  const client = useQueryClient();
  const onSuccess = (school: Schemas["SchoolPage"]) => {
    client.setQueryData(keys.school, school);
    void client.invalidateQueries({ queryKey: keys.retention });
  };
  return {
    /** Delete what is over after so many days of warning; null leaves it to each teacher. */
    agree: useMutation({
      mutationFn: (days: number | null) =>
        data(
          days === null
            ? api.DELETE("/api/school/retention/")
            : api.PUT("/api/school/retention/", { body: { days } }),
        ),
      onSuccess,
    }),
    again: useMutation({
      mutationFn: (take: number) =>
        data(
          api.POST("/api/school/given-up/{take_id}/", { params: { path: { take_id: take } } }),
        ),
      onSuccess,
    }),
  };
}

/** What belongs to another band is not shown a moment longer. */
function useFreshStart() {
  const client = useQueryClient();
  return (session: Session) => {
    client.clear();
    client.setQueryData(keys.session, session);
  };
}

export function useStandingIn() {
  return useMutation({
    mutationFn: (host: number | null) => data(api.PUT("/api/standing-in/", { body: { host } })),
    onSuccess: useFreshStart(),
  });
}

export function useJoining(token: string) {
  const path = { params: { path: { token } } };
  return {
    asked: useQuery({
      queryKey: keys.joining(token),
      queryFn: () => data(api.GET("/api/join/{token}/", path)),
      retry: false,
    }),
    join: useMutation({
      mutationFn: (body: Schemas["JoinInRequest"]) =>
        data(api.POST("/api/join/{token}/", { ...path, body })),
      onSuccess: useFreshStart(),
    }),
  };
}

export function useSecondFactor() {
  return useQuery({
    queryKey: keys.secondFactor,
    queryFn: () => data(api.GET("/api/second-factor/")),
  });
}

export function useSecondFactorEdits() {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.secondFactor });
  return {
    begin: useMutation({ mutationFn: () => data(api.POST("/api/second-factor/")) }),
    confirm: useMutation({
      mutationFn: (code: string) => data(api.PUT("/api/second-factor/", { body: { code } })),
      onSuccess,
    }),
    end: useMutation({
      mutationFn: (password: string) =>
        data(api.POST("/api/second-factor/off/", { body: { password } })),
      onSuccess,
    }),
  };
}

/** The other teachers of the school. */
export function useColleagues() {
  return useQuery({
    queryKey: keys.colleagues,
    queryFn: () => data(api.GET("/api/colleagues/")),
  });
}

export function useTransfer(student: number) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (to: number) =>
      data(
        api.POST("/api/students/{student_id}/transfer/", {
          params: { path: { student_id: student } },
          body: { to },
        }),
      ),
    onSuccess: () => client.invalidateQueries(),
  });
}
