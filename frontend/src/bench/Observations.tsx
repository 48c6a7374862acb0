/** What no camera shows, ticked by ear, eye and hand. */
import { inside } from "../shared/format";
import { useEffect, useRef, useState } from "react";
import { Form } from "react-bootstrap";
import type { BenchPage } from "../api/client";
import { t } from "../shared/words";

interface Props {
  observations: BenchPage["observations"];
  open: boolean;
  setOpen: (open: boolean) => void;
  observe: (seen: string[]) => void;
  /** Edits are on their way: what was ticked last counts until they have arrived. */
  waiting: boolean;
  triage: BenchPage["triage"];
}

const BY: Record<string, string> = {
  asked: t("Asked"),
  ear: t("Heard"),
  eye: t("Seen"),
  hand: t("Felt"),
};

export function Observations({
  observations: known,
  open,
  setOpen,
  observe,
  waiting,
  triage,
}: Props) {
  const [mine, setMine] = useState<string[] | null>(null);
  const part = useRef<HTMLDetailsElement>(null);
  useEffect(() => {
    if (open) part.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  const observations =
    waiting && mine ? known.map((o) => ({ ...o, seen: mine.includes(o.id) })) : known;
  const seen = observations.filter((o) => o.seen);
  const cautions = seen.filter((o) => o.caution);
  const ticked = (id: string, on: boolean) => {
    const all = observations.filter((o) => (o.id === id ? on : o.seen)).map((o) => o.id);
    setMine(all);
    observe(all);
  };
  return (
    <>
      {cautions.map((o) => (
        <p key={o.id} role="alert" className="caution">
          <strong>{o.label}:</strong> {o.caution}
        </p>
      ))}
      <details
        ref={part}
        className="finding"
        open={open}
        onToggle={(event) => setOpen(event.currentTarget.open)}
      >
        <summary>
          {t("What the camera can't see")}
          {seen.length > 0 && <strong>: {seen.map((o) => o.label).join(", ")}</strong>}
        </summary>
        {Object.entries(BY).map(([by, words]) => {
          const some = observations.filter((o) => o.by === by);
          return (
            some.length > 0 && (
              <fieldset key={by} className="mt-2">
                <legend className="kicker mb-1">{words}</legend>
                {some.map((o) => (
                  <Form.Check
                    key={o.id}
                    id={`seen-${o.id}`}
                    label={o.label}
                    checked={o.seen}
                    onChange={(event) => ticked(o.id, event.target.checked)}
                  />
                ))}
              </fieldset>
            )
          );
        })}
      </details>
      {triage.length > 0 && (
        <section className="finding" aria-labelledby="triage-title">
          <h2 id="triage-title">{t("What to check first")}</h2>
          <ol className="mb-0">
            {triage.map((a) => (
              <li key={`${a.heard} ${a.look}`} className="mb-1">
                {a.equipment && <strong>{t("Equipment:")} </strong>}
                {a.look} {a.help}
                {a.seen && (
                  <span className="faint">
                    {" "}
                    {t("The clip shows “{{seen}}”.", { seen: inside(a.seen) })}
                  </span>
                )}
              </li>
            ))}
          </ol>
        </section>
      )}
    </>
  );
}
