/** Something that is on or off on every page and in every window of this browser. */
import { useSyncExternalStore } from "react";

export interface StoredSwitch {
  isOn: () => boolean;
  set: (on: boolean) => void;
  useIt: () => boolean;
}

export function storedSwitch(key: string): StoredSwitch {
  const listeners = new Set<() => void>();
  const isOn = () => localStorage.getItem(key) === "on";
  const listen = (told: () => void) => {
    listeners.add(told);
    window.addEventListener("storage", told);
    return () => {
      listeners.delete(told);
      window.removeEventListener("storage", told);
    };
  };
  return {
    isOn,
    set: (on) => {
      localStorage.setItem(key, on ? "on" : "off");
      listeners.forEach((told) => told());
    },
    useIt: () => useSyncExternalStore(listen, isOn),
  };
}
