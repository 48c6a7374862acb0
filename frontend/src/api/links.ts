/** Capture links: the teacher's side, and the phone's. */
import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex } from "@noble/hashes/utils.js";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, Refusal, refusalOf, type Schemas } from "./client";
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
    ...ON_A_PHONE,
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

/** A clip on its way: kept until all of it has come. */
export interface Outgoing {
  upload: string;
  name: string;
  clip: Blob;
}

export function outgoing(file: File): Outgoing {
  return { upload: newUpload(), name: file.name.slice(0, 200), clip: file };
}

/**
 * Sends a clip piece by piece; a lost connection costs one of them, and so does a page that was
 * closed: the same upload goes on where it was.
 *
 * told  how much has come, 0 to 1
 */
export async function sendClip(
  token: string,
  { upload, name, clip }: Outgoing,
  piece: number,
  told: (share: number) => void,
): Promise<Sent> {
  const count = Math.max(Math.ceil(clip.size / piece), 1);
  const path = { token, upload };
  // Piece by piece: a long clip does not fit into a phone's memory.
  const part = (number: number) =>
    clip.slice(number * piece, (number + 1) * piece).arrayBuffer();
  for (let round = 0; ; round += 1) {
    try {
      const { missing } = await data(
        api.GET("/api/film/{token}/{upload}/of/{count}/", {
          params: { path: { ...path, count } },
        }),
      );
      for (const [n, number] of missing.entries()) {
        told((count - missing.length + n) / count);
        const bytes = await part(number);
        const answer = await fetch(`/api/film/${token}/${upload}/${number}/`, {
          method: "PUT",
          headers: {
            "Content-Type": "application/octet-stream",
            "X-Digest": digestOf(bytes),
          },
          body: bytes,
        });
        if (!answer.ok) throw refusalOf(answer.status, await answer.json().catch(() => null));
      }
      told(1);
      const whole = sha256.create();
      for (let number = 0; number < count; number += 1)
        whole.update(new Uint8Array(await part(number)));
      return await data(
        api.POST("/api/film/{token}/{upload}/", {
          params: { path },
          body: { pieces: count, digest: bytesToHex(whole.digest()), name },
        }),
      );
    } catch (error) {
      // The network went away, or a piece came damaged: what has come stays there, and it goes on
      // where it was.
      if (!(isLost(error) || isDamaged(error)) || round >= TRIES) throw error;
      await new Promise((on) => setTimeout(on, PAUSE));
    }
  }
}

function isDamaged(error: unknown): boolean {
  return error instanceof Refusal && error.status === 409;
}

/** Whether it is worth another try later: nothing was answered, or the server can't just now (too
 * much at once, a full disk, a fault of its own). What is refused for good says so by 400 and up. */
export function isLost(error: unknown): boolean {
  if (error instanceof TypeError) return true;
  if (!(error instanceof Refusal)) return false;
  return error.status === 0 || error.status === 429 || error.status >= 500;
}

/** How a page on a phone asks: also without a connection, where what the phone has kept answers,
 * and again where nothing came. */
export const ON_A_PHONE = {
  networkMode: "always",
  retry: (count: number, error: Error) => isLost(error) && count < 3,
  retryDelay: 1000,
} as const;
