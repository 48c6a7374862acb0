/** Keys of a screen. Typing in a field is never taken for one. */
import { useEffect, useRef } from "react";

export type Keys = Record<string, (event: KeyboardEvent) => void>;

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName))
  );
}

/** Names are `event.key`, with "Shift+" or "Alt+" before it where that matters. */
export function keyName(event: KeyboardEvent): string {
  if (event.key === "?") return "?";
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return `${event.altKey ? "Alt+" : ""}${event.shiftKey ? "Shift+" : ""}${key}`;
}

export function useKeys(keys: Keys): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      if (event.ctrlKey || event.metaKey || typing(event.target)) return;
      if (document.querySelector(".modal.show")) return;
      // A focused button or link keeps Enter and the space bar.
      const plain = event.key === "Enter" || event.key === " ";
      if (plain && event.target instanceof Element && event.target.closest("button, a")) return;
      const action = latest.current[keyName(event)];
      if (!action) return;
      event.preventDefault();
      action(event);
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
