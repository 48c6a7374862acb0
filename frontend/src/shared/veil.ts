/** Whether faces are veiled, for showing in class: on every page, until it is taken off. */
import { useSyncExternalStore } from "react";

const KEY = "sulvet-veil";
const listeners = new Set<() => void>();

export function isVeiled(): boolean {
  return localStorage.getItem(KEY) === "on";
}

export function setVeil(on: boolean): void {
  localStorage.setItem(KEY, on ? "on" : "off");
  listeners.forEach((told) => told());
}

function listen(told: () => void): () => void {
  listeners.add(told);
  window.addEventListener("storage", told);
  return () => {
    listeners.delete(told);
    window.removeEventListener("storage", told);
  };
}

export function useVeil(): boolean {
  return useSyncExternalStore(listen, isVeiled);
}
