/** The booth: opened by the teacher, used by students, ended with the teacher's password. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, sendForm, type Schemas } from "./client";
import { keys } from "./keys";

export type Booth = Schemas["BoothPage"];
export type BoothStudent = Booth["students"][number];
export type Filmed = Schemas["Filmed"];
export type View = "front" | "side";

export function useBoothChoices() {
  return useQuery({
    queryKey: keys.boothChoices,
    queryFn: () => data(api.GET("/api/booths/")),
    staleTime: Infinity,
  });
}

/** Hands this browser over: what the teacher had open here is forgotten. */
export function useOpenBooth() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["BoothInRequest"]) => data(api.POST("/api/booths/", { body })),
    onSuccess: () => {
      client.clear();
      window.location.assign("/");
    },
  });
}

export function useBooth() {
  return useQuery({ queryKey: keys.booth, queryFn: () => data(api.GET("/api/booth/")) });
}

export function useEndBooth() {
  return useMutation({
    mutationFn: (password: string) => data(api.POST("/api/booth/end/", { body: { password } })),
    onSuccess: () => window.location.assign("/"),
  });
}

/** A session whose booth is over is nobody's. */
export function useLeaveBooth() {
  return useMutation({
    mutationFn: () => data(api.DELETE("/api/session/")),
    onSuccess: () => window.location.assign("/"),
  });
}

export function useFilm() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (one: { student: number; view: View; again: number | null; clip: Blob }) =>
      sendForm<Filmed>("/api/booth/takes/", {
        student: String(one.student),
        view: one.view,
        ...(one.again !== null && { again: String(one.again) }),
        clip: new File([one.clip], `booth.${suffixOf(one.clip.type)}`, { type: one.clip.type }),
      }),
    onSettled: () => client.invalidateQueries({ queryKey: keys.booth }),
  });
}

function suffixOf(type: string): string {
  return type.startsWith("video/mp4") ? "mp4" : "webm";
}
