/** A round, one take after the other: say what you see, then what is true. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { RoundItem, Said, Truth } from "../api/eye";
import { Verdict } from "../shared/glyphs";
import { Refused } from "../shared/states";
import { storedSwitch } from "../shared/storedSwitch";
import { useKeys } from "../shared/useKeys";
import { Film } from "./Film";
import { Tone } from "./Tone";
import { t } from "../shared/words";

const shownOnce = storedSwitch("sulvet-eye-once");
const fromAfar = storedSwitch("sulvet-eye-far");

const FROM = { front: t("from the front"), side: t("from the side"), ear: t("by ear") };

interface Props {
  items: RoundItem[];
  summary: string;
  say: (said: Said) => void;
  waiting: boolean;
  error: Error | null;
  /** What follows the last take. */
  after: React.ReactNode;
}

export function Judging({ items, summary, say, waiting, error, after }: Props) {
  // What was judged stays on the screen until the next is asked for.
  const [at, setAt] = useState(() => items.findIndex((one) => one.truth === null));
  const item = items[at];
  if (!item) return <Over items={items} summary={summary} after={after} />;
  const judged = items.filter((one) => one.truth !== null).length;
  return (
    <>
      <p className="fs-5 mb-2">
        {t("Take {{nth}} of {{all}}, {{view}}", {
          nth: at + 1,
          all: items.length,
          view: FROM[item.view],
        })}{" "}
        <progress
          value={judged}
          max={items.length}
          aria-label={t("How far")}
          className="ms-2"
        />
      </p>
      <Refused error={error} />
      {item.truth ? (
        <Told item={item} truth={item.truth} next={() => setAt(at + 1)} />
      ) : (
        <Asked key={item.place} item={item} say={say} waiting={waiting} />
      )}
    </>
  );
}

interface AskedProps {
  item: RoundItem;
  say: (said: Said) => void;
  waiting: boolean;
}

function Asked({ item, say, waiting }: AskedProps) {
  const [seen, setSeen] = useState<string[]>([]);
  const [began] = useState(() => performance.now());
  const once = shownOnce.useIt();
  const far = fromAfar.useIt();
  const [over, setOver] = useState(false);
  const ear = item.view === "ear";
  const toggle = (id: string) =>
    setSeen(seen.includes(id) ? seen.filter((one) => one !== id) : [...seen, id]);
  const answer = (faults: string[], untold: boolean) =>
    say({ place: item.place, faults, untold, seconds: (performance.now() - began) / 1000 });
  useKeys(
    Object.fromEntries(
      item.options.slice(0, 9).map(({ id }, n) => [String(n + 1), () => toggle(id)]),
    ),
  );
  return (
    <div className="judging">
      <div>
        {ear ? (
          <>
            <Tone src={item.film} label={t("the target, then the student")} atOnce />
            <p className="fs-5 mt-2">{t("First the target, then the student.")}</p>
          </>
        ) : over ? (
          <div className="film gone">
            <p className="fs-4">{t("What did you see?")}</p>
          </div>
        ) : (
          <Film
            src={item.film}
            label={t("A made-up student, {{view}}", { view: FROM[item.view] })}
            once={once}
            far={far}
            ended={() => setOver(once)}
          />
        )}
        {!ear && (
          <div className="d-flex flex-wrap gap-3 mt-2">
            <Form.Check
              type="switch"
              id="once"
              label={t("Shown once")}
              checked={once}
              onChange={(event) => shownOnce.set(event.target.checked)}
            />
            <Form.Check
              type="switch"
              id="far"
              label={t("From across the room")}
              checked={far}
              onChange={(event) => fromAfar.set(event.target.checked)}
            />
          </div>
        )}
      </div>
      <div>
        <h2 className="h4">
          {t("What do you {{verb}}?", { verb: ear ? t("hear") : t("see") })}
        </h2>
        <div className="options" role="group" aria-label={t("Faults")}>
          {item.options.map(({ id, name }, n) => (
            <Button
              key={id}
              variant={seen.includes(id) ? "primary" : "outline-secondary"}
              aria-pressed={seen.includes(id)}
              onClick={() => toggle(id)}
            >
              {n < 9 && <kbd aria-hidden>{n + 1}</kbd>} {name}
            </Button>
          ))}
        </div>
        <div className="d-flex flex-wrap gap-2 mt-3">
          {seen.length > 0 ? (
            <Button size="lg" disabled={waiting} onClick={() => answer(seen, false)}>
              {t("That is what I {{verb}}", { verb: ear ? t("hear") : t("see") })}
            </Button>
          ) : (
            <>
              <Button size="lg" disabled={waiting} onClick={() => answer([], false)}>
                {t("Nothing to correct")}
              </Button>
              <Button
                size="lg"
                variant="outline-primary"
                disabled={waiting}
                onClick={() => answer([], true)}
              >
                {t("Can't be told")}
                {!ear && t(" from here")}
              </Button>
            </>
          )}
        </div>
      </div>
    </div>
  );
}

interface ToldProps {
  item: RoundItem;
  truth: Truth;
  next: () => void;
}

function Told({ item, truth, next }: ToldProps) {
  const [moving, setMoving] = useState(false);
  const ear = item.view === "ear";
  return (
    <div className="judging">
      <div>
        {ear ? (
          <Tone src={item.film} label={t("the same again")} />
        ) : (
          <>
            <Film
              src={item.film}
              label={t("The same, {{how}}", {
                how: moving ? t("moving") : t("with where to look"),
              })}
              marks={moving ? null : truth.marks}
            />
            <Button variant="link" className="p-0 mt-2" onClick={() => setMoving(!moving)}>
              {moving ? t("Show where to look") : t("Show it moving")}
            </Button>
          </>
        )}
      </div>
      <div role="status">
        <p className="fs-3 mb-2">
          <Verdict
            verdict={truth.right ? "in band" : "fault"}
            words={
              truth.right
                ? t("You {{verb}} it.", { verb: ear ? t("heard") : t("saw") })
                : t("Not quite.")
            }
          />
        </p>
        <dl className="fs-5">
          <dt>{t("You said")}</dt>
          <dd>{truth.said}</dd>
          <dt>{t("It is")}</dt>
          <dd>
            <strong>{truth.truth}</strong>
          </dd>
        </dl>
        {truth.look && <p className="fs-5">{truth.look}</p>}
        {truth.because && <p className="fs-5">{truth.because}</p>}
        <Button size="lg" autoFocus onClick={next}>
          {t("Next")}
        </Button>
      </div>
    </div>
  );
}

function Over({ items, summary, after }: Pick<Props, "items" | "summary" | "after">) {
  return (
    <>
      <p className="fs-4 serif">{summary}</p>
      <ul className="over">
        {items.map((one) => (
          <li key={one.place}>
            {one.view === "ear" ? (
              <Tone src={one.film} label={t("take {{place}}", { place: one.place + 1 })} />
            ) : (
              <Film
                src={one.film}
                label={t("Take {{place}}", { place: one.place + 1 })}
                marks={one.truth?.marks ?? []}
              />
            )}
            {one.truth && (
              <p className="mb-0">
                <Verdict
                  verdict={one.truth.right ? "in band" : "fault"}
                  words={one.truth.truth}
                />
                {!one.truth.right && (
                  <span className="d-block faint">
                    {t("You said: {{said}}", { said: one.truth.said })}
                  </span>
                )}
              </p>
            )}
          </li>
        ))}
      </ul>
      {after}
    </>
  );
}
