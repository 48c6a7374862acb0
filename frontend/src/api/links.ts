/** Capture links: the teacher's side, and the phone's. */
import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex } from "@noble/hashes/utils.js";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "./client";
import { keys } from "./keys";

export type CaptureLink = Schemas["LinkRow"];
export type PhonePage = Schemas["PhonePage"];
export type Sent = Schemas["Filmed"];

export function useLinks(student: number) {
  return useQuery({
    queryKey: keys.links(student),
    queryFn: () =>
      data(
        api.GET("/api/students/{student_id}/links/", {
          params: { path: { student_id: student } },
        }),
      ),
  });
}

export function useLinkEdits(student: number) {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.links(student) });
  return {
    make: useMutation({
      mutationFn: (body: Schemas["LinkInRequest"]) =>
        data(
          api.POST("/api/students/{student_id}/links/", {
            params: { path: { student_id: student } },
            body,
          }),
        ),
      onSuccess,
    }),
    revoke: useMutation({
      mutationFn: (link: number) =>
        data(api.DELETE("/api/links/{link_id}/", { params: { path: { link_id: link } } })),
      onSuccess,
    }),
  };
}

export function useAsked(token: string) {
  return useQuery({
    queryKey: keys.phone(token),
    queryFn: () => data(api.GET("/api/film/{token}/", { params: { path: { token } } })),
    retry: false,
  });
}

/** Of the page's own: what a browser offers for it works over https alone, and a phone in the room
 * comes by plain http. */
function digestOf(bytes: ArrayBuffer): string {
  return bytesToHex(sha256(new Uint8Array(bytes)));
}

/** A name for one upload (RFC 9562, version 4); `randomUUID` is offered over https alone. */
function newUpload(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x40;
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
  return bytesToHex(bytes).replace(/^(.{8})(.{4})(.{4})(.{4})/, "$1-$2-$3-$4-");
}

/** How often a piece is tried again, and how long is waited before, ms. */
const TRIES = 8;
const PAUSE = 1500;

/**
 * Sends a clip piece by piece; a lost connection costs one of them.
 *
 * told  how much has come, 0 to 1
 */
export async function sendClip(
  token: string,
  clip: File,
  piece: number,
  told: (share: number) => void,
): Promise<Sent> {
  const whole = await clip.arrayBuffer();
  const count = Math.max(Math.ceil(whole.byteLength / piece), 1);
  const upload = newUpload();
  const path = { token, upload };
  for (let round = 0; ; round += 1) {
    try {
      const { missing } = await data(
        api.GET("/api/film/{token}/{upload}/of/{count}/", {
          params: { path: { ...path, count } },
        }),
      );
      for (const [n, number] of missing.entries()) {
        told((count - missing.length + n) / count);
        const part = whole.slice(number * piece, (number + 1) * piece);
        const answer = await fetch(`/api/film/${token}/${upload}/${number}/`, {
          method: "PUT",
          headers: {
            "Content-Type": "application/octet-stream",
            "X-Digest": digestOf(part),
          },
          body: part,
        });
        if (!answer.ok && answer.status !== 400) throw new TypeError("not sent");
      }
      told(1);
      return await data(
        api.POST("/api/film/{token}/{upload}/", {
          params: { path },
          body: { pieces: count, digest: digestOf(whole), name: clip.name.slice(0, 200) },
        }),
      );
    } catch (error) {
      // The network went away: what has come stays there, and it goes on where it was.
      if (!(error instanceof TypeError) || round >= TRIES) throw error;
      await new Promise((on) => setTimeout(on, PAUSE));
    }
  }
}
