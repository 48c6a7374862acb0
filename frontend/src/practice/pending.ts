/** A clip that has not been sent yet, kept on the phone: a closed page or a day without a
 * connection loses nothing. */
import { del, get, set } from "idb-keyval";
import type { Outgoing } from "../api/links";

const keyOf = (token: string) => `sulvet-clip-${token}`;

/** Keeps a clip; not at all where the browser keeps nothing (a private window, a full phone). */
export async function keepClip(token: string, clip: Outgoing): Promise<void> {
  await set(keyOf(token), clip).catch(() => undefined);
}

export async function keptClip(token: string): Promise<Outgoing | undefined> {
  return get<Outgoing>(keyOf(token)).catch(() => undefined);
}

export async function forgetClip(token: string): Promise<void> {
  await del(keyOf(token)).catch(() => undefined);
}
