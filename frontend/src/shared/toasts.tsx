/** Short words that something was done, with a way back where there is one. */
import { useSyncExternalStore } from "react";
import { Button, Toast, ToastContainer } from "react-bootstrap";
import { t } from "./words";

interface Told {
  id: number;
  words: string;
  undo: (() => void) | undefined;
}

/** How long it stays, ms; with a way back long enough to read and reach it. */
const STAYS = { plain: 4000, undo: 12_000 };

let told: readonly Told[] = [];
let count = 0;
const listeners = new Set<() => void>();

function change(next: readonly Told[]): void {
  told = next;
  listeners.forEach((listener) => listener());
}

/** Say that something was done; ``undo`` takes it back. */
export function tell(words: string, undo?: () => void): void {
  count += 1;
  change([...told.slice(-2), { id: count, words, undo }]);
}

function close(id: number): void {
  change(told.filter((one) => one.id !== id));
}

export function Toasts() {
  const shown = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => told,
  );
  return (
    <ToastContainer position="bottom-center" containerPosition="fixed" className="toasts">
      {shown.map(({ id, words, undo }) => (
        <Toast
          key={id}
          role="status"
          aria-live="polite"
          autohide
          animation={false}
          delay={undo ? STAYS.undo : STAYS.plain}
          onClose={() => close(id)}
        >
          <Toast.Body>
            <span>{words}</span>
            {undo && (
              <Button
                size="sm"
                variant="outline-secondary"
                onClick={() => {
                  close(id);
                  undo();
                }}
              >
                {t("Undo")}
              </Button>
            )}
          </Toast.Body>
        </Toast>
      ))}
    </ToastContainer>
  );
}
