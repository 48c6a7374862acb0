/** Asking what a measure is; the sheet that answers is shown by the shell. */
import { useSyncExternalStore, type ReactNode } from "react";
import { t } from "./words";

let asked: string | null = null;
const listeners = new Set<() => void>();

/** Show what a measure is, by its id; null closes the sheet. */
export function explain(measure: string | null): void {
  asked = measure;
  listeners.forEach((listener) => listener());
}

/** What is asked for now. */
export function useAsked(): string | null {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => asked,
  );
}

/** The name of a measure that says on a click what it is. */
export function MeasureName({ measure, children }: { measure: string; children: ReactNode }) {
  return (
    <button
      type="button"
      className="measure-name"
      title={t("What is this?")}
      onClick={() => explain(measure)}
    >
      {children}
    </button>
  );
}
