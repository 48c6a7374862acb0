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

export type Mirrored = Schemas["Mirrored"];
export type MirrorState = Mirrored["state"];

/** 16 bits each, little end first. */
function samplesOf(sound: Float32Array): ArrayBuffer {
  const out = new DataView(new ArrayBuffer(2 * sound.length));
  sound.forEach((value, n) =>
    out.setInt16(2 * n, Math.max(-1, Math.min(1, value)) * 32767, true),
  );
  return out.buffer as ArrayBuffer;
}

/** One picture for the mirror: measured, and forgotten. */
export function sendPicture(one: {
  student: number;
  view: View;
  picture: ImageData;
  resting: boolean;
  passed: number;
  state: MirrorState;
  /** The last moments' sound: mono, 48 kHz, -1 to 1. */
  sound: Float32Array;
}): Promise<Mirrored> {
  const { data: rgba, width, height } = one.picture;
  const rgb = new Uint8Array(width * height * 3);
  for (let from = 0, to = 0; from < rgba.length; from += 4, to += 3) {
    rgb[to] = rgba[from] ?? 0;
    rgb[to + 1] = rgba[from + 1] ?? 0;
    rgb[to + 2] = rgba[from + 2] ?? 0;
  }
  return sendForm<Mirrored>("/api/booth/mirror/", {
    student: String(one.student),
    view: one.view,
    width: String(width),
    height: String(height),
    resting: String(one.resting),
    passed: String(one.passed),
    state: JSON.stringify(one.state),
    pixels: new Blob([rgb]),
    sound: new Blob([samplesOf(one.sound)]),
  });
}
