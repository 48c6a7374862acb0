/** All shortcuts on one sheet, and giving one another key. */
import { useState, type KeyboardEvent } from "react";
import { Button, Modal } from "react-bootstrap";
import {
  choose,
  FIXED,
  GROUPS,
  keyOf,
  keyWords,
  resetShortcuts,
  useChosen,
  type Scope,
} from "./shortcuts";
import { t } from "./words";

/** Keys that can't be given: they move between controls or have a fixed meaning. */
const KEPT = ["Tab", "Enter", "Shift", "Control", "Alt", "Meta", "?"];

interface Asked {
  scope: Scope;
  id: string;
}

export function ShortcutSheet({ shown, close }: { shown: boolean; close: () => void }) {
  const [asked, setAsked] = useState<Asked | null>(null);
  const [told, setTold] = useState("");
  const chosen = useChosen();

  function onKey(event: KeyboardEvent) {
    if (!asked) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === "Escape") {
      setAsked(null);
      return;
    }
    if (KEPT.includes(event.key) || event.key.startsWith("Arrow") || event.ctrlKey) return;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    const taken = choose(asked.scope, asked.id, key);
    if (taken)
      setTold(
        t("{{key}} is taken: {{what}}. Press another key.", {
          key: keyWords(key),
          what: taken.what,
        }),
      );
    else {
      setAsked(null);
      setTold("");
    }
  }

  return (
    <Modal
      show={shown}
      onHide={close}
      size="lg"
      aria-labelledby="keys-title"
      animation={false}
      keyboard={asked === null}
    >
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="keys-title">
          {t("Shortcuts")}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body onKeyDownCapture={onKey}>
        <p className="faint">{t("Click a key to choose another one.")}</p>
        <p role="status" className="mb-2">
          {told}
        </p>
        <div className="row row-cols-1 row-cols-md-2 g-4">
          <section>
            <h3 className="h5">{t("Everywhere")}</h3>
            <dl className="mb-0">
              {FIXED.map(([keys, what]) => (
                <Row key={what} what={what}>
                  {keys.map((key) => (
                    <kbd key={key} className="me-1">
                      {key}
                    </kbd>
                  ))}
                </Row>
              ))}
            </dl>
          </section>
          {GROUPS.map(({ title, scope, rows }) => (
            <section key={title}>
              <h3 className="h5">{title}</h3>
              <dl className="mb-0">
                {rows.map(({ id, what }) => {
                  const waits = asked?.scope === scope && asked.id === id;
                  const key = waits ? t("Press a key") : keyWords(keyOf(scope, id));
                  return (
                    <Row key={id} what={what}>
                      <button
                        type="button"
                        className="key"
                        aria-label={`${key}: ${what}`}
                        onClick={() => setAsked({ scope, id })}
                      >
                        <kbd>{key}</kbd>
                      </button>
                    </Row>
                  );
                })}
              </dl>
            </section>
          ))}
        </div>
        {Object.keys(chosen).length > 0 && (
          <Button
            className="mt-3"
            size="sm"
            variant="outline-secondary"
            onClick={resetShortcuts}
          >
            {t("Reset all keys")}
          </Button>
        )}
      </Modal.Body>
    </Modal>
  );
}

function Row({ what, children }: { what: string; children: React.ReactNode }) {
  return (
    <div className="d-flex gap-3 py-1">
      <dt className="text-nowrap" style={{ minWidth: "6.5rem" }}>
        {children}
      </dt>
      <dd className="mb-0">{what}</dd>
    </div>
  );
}
