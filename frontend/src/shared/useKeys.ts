/** Keys of a screen. Typing in a field is never taken for one. */
import { useEffect, useRef } from "react";

export type Keys = Record<string, (event: KeyboardEvent) => void>;

function typing({ target, key }: KeyboardEvent): boolean {
  // A box to tick takes no letters, a slider only keys that have names.
  if (target instanceof HTMLInputElement && target.type === "checkbox") return false;
  if (target instanceof HTMLInputElement && target.type === "range") return key.length > 1;
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName))
  );
}

/** Names are `event.key`, with "Ctrl+", "Alt+" or "Shift+" before it where that matters.
 *
 * Signs such as `?` or `+` are on different keys here and there: they go by themselves. */
export function keyName(event: KeyboardEvent): string {
  const control = event.ctrlKey || event.metaKey ? "Ctrl+" : "";
  if (event.shiftKey && /^Digit\d$/.test(event.code)) return `${control}Shift+${event.code}`;
  if (/^[^\p{L}\p{N} ]$/u.test(event.key)) return control + event.key;
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return `${control}${event.altKey ? "Alt+" : ""}${event.shiftKey ? "Shift+" : ""}${key}`;
}

/** `first`: these keys go before those of the screen under them. */
export function useKeys(keys: Keys, first = false): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      if (typing(event)) return;
      if (document.querySelector(".modal.show")) return;
      // A focused button or link keeps Enter and the space bar.
      const plain = event.key === "Enter" || event.key === " ";
      if (
        plain &&
        event.target instanceof Element &&
        event.target.closest("button, a, summary, input")
      )
        return;
      const action = latest.current[keyName(event)];
      if (!action) return;
      event.preventDefault();
      if (first) event.stopImmediatePropagation();
      action(event);
    }
    window.addEventListener("keydown", onKey, first);
    return () => window.removeEventListener("keydown", onKey, first);
  }, [first]);
}
