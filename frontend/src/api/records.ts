/** What is on record of students: compared, noted, handed out, taken in. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, sendForm, type Schemas } from "./client";
import { keys } from "./keys";

export type ThenAndNow = Schemas["ThenAndNow"];
export type Pair = Schemas["Pair"];
export type PairSide = Schemas["PairSide"];
export type Change = Schemas["Change"];
export type Trend = Schemas["Trend"];
export type StudentRecord = Schemas["Record"];
export type Note = Schemas["Note"];
export type Sectionals = Schemas["Sectionals"];
export type ClipMatch = Schemas["ClipMatch"];

export interface Wanted {
  then?: number;
  now?: number;
  phase?: string;
  face?: boolean;
}

export function useThenAndNow(student: number, wanted: Wanted) {
  return useQuery({
    queryKey: keys.thenAndNow(student, wanted),
    queryFn: () =>
      data(
        api.GET("/api/students/{student_id}/then-and-now/", {
          params: { path: { student_id: student }, query: wanted },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

/** `measure`: "focus" leaves the choice to what is worked on. */
export function useTrend(student: number, measure: string) {
  return useQuery({
    queryKey: keys.trend(student, measure),
    queryFn: () =>
      data(
        api.GET("/api/students/{student_id}/trend/{measure}/", {
          params: { path: { student_id: student, measure } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

export function useRecord(student: number) {
  return useQuery({
    queryKey: keys.record(student),
    queryFn: () =>
      data(
        api.GET("/api/students/{student_id}/record/", {
          params: { path: { student_id: student } },
        }),
      ),
  });
}

export function useNotes(student: number) {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.record(student) });
  return {
    add: useMutation({
      mutationFn: (body: Schemas["NoteInRequest"]) =>
        data(
          api.POST("/api/students/{student_id}/record/", {
            params: { path: { student_id: student } },
            body,
          }),
        ),
      onSuccess,
    }),
    change: useMutation({
      mutationFn: ({ id, text }: { id: number; text: string }) =>
        data(
          api.PUT("/api/notes/{note_id}/", {
            params: { path: { note_id: id } },
            body: { text },
          }),
        ),
      onSuccess,
    }),
    remove: useMutation({
      mutationFn: (id: number) =>
        api.DELETE("/api/notes/{note_id}/", { params: { path: { note_id: id } } }),
      onSuccess,
    }),
    takeOver: useMutation({
      mutationFn: ({ take, text }: { take: number; text: string }) =>
        data(
          api.POST("/api/takes/{take_id}/notes/", {
            params: { path: { take_id: take } },
            body: { text },
          }),
        ),
      onSuccess,
    }),
  };
}

export function useDeleteStudent(student: number) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () =>
      data(
        api.DELETE("/api/students/{student_id}/", {
          params: { path: { student_id: student } },
        }),
      ),
    onSuccess: () => {
      client.removeQueries({ queryKey: keys.student(student) });
      return client.invalidateQueries({ queryKey: keys.band });
    },
  });
}

export interface SectionalsWishes {
  days: number;
  least: number;
  most: number;
  minutes: number;
  total: number;
  stations: number;
}

export function useSectionals(wishes: SectionalsWishes) {
  return useQuery({
    queryKey: keys.sectionals(wishes),
    queryFn: () => data(api.GET("/api/sectionals/", { params: { query: wishes } })),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useMatchClips() {
  return useMutation({
    mutationFn: (files: string[]) => data(api.POST("/api/clip-names/", { body: { files } })),
  });
}

interface ArchiveIn {
  archive: File;
  passphrase: string;
  withoutConsent: boolean;
}

export function useTakeInArchive() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ archive, passphrase, withoutConsent }: ArchiveIn) =>
      sendForm<Schemas["Taken"]>("/api/archive.zip", {
        archive,
        passphrase,
        without_consent: String(withoutConsent),
      }),
    onSuccess: () => client.invalidateQueries(),
  });
}

export function useRetention() {
  return useQuery({
    queryKey: keys.retention,
    queryFn: () => data(api.GET("/api/retention/")),
  });
}

/** Agree that Sulvet deletes what is over after so many days of warning; null takes it back. */
export function useAgreeToDeletion() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (days: number | null) =>
      data(
        days === null
          ? api.DELETE("/api/retention/")
          : api.PUT("/api/retention/", { body: { days } }),
      ),
    onSuccess: () => client.invalidateQueries(),
  });
}
