/** Two takes of a student in one face frame: beside each other, laid over, or with a moving
 * edge; what has changed in sentences; and the measure over all takes. */
import { useState } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import { Link, useParams, useSearchParams } from "react-router";
import { useThenAndNow, type Change, type Pair, type ThenAndNow } from "../api/records";
import { day, noon, shortDay } from "../shared/format";
import { Glyph } from "../shared/glyphs";
import { slipAddress } from "../shared/slip";
import { Refused, Trouble, Waiting } from "../shared/states";
import { useBox } from "../shared/useBox";
import { useKeys } from "../shared/useKeys";
import { Aligned, heightOf, shotOf, type Shot } from "./Aligned";
import { TrendPanel } from "./TrendPanel";

const WAYS = { beside: "Side by side", over: "Laid over", edge: "Moving edge" } as const;
type Way = keyof typeof WAYS;

function numberOf(text: string | null): number | undefined {
  return text !== null && /^\d+$/.test(text) ? Number(text) : undefined;
}

export default function ThenNowScreen() {
  const student = Number(useParams().id);
  const [query, setQuery] = useSearchParams();
  const wanted = {
    then: numberOf(query.get("then")),
    now: numberOf(query.get("now")),
    phase: query.get("phase") ?? undefined,
    face: query.get("face") === "1" || undefined,
  };
  const page = useThenAndNow(student, wanted);
  const choose = (part: Record<string, string | null>) =>
    setQuery(
      (before) => {
        const next = new URLSearchParams(before);
        for (const [name, value] of Object.entries(part)) {
          if (value === null) next.delete(name);
          else next.set(name, value);
        }
        return next;
      },
      { replace: true },
    );
  if (page.isPending) return <Waiting what="both takes" />;
  if (page.isError && !page.data)
    return <Trouble error={page.error} retry={() => void page.refetch()} />;
  const { pair } = page.data;
  return (
    <main className="page then-now">
      <Heading page={page.data} choose={choose} />
      <Refused error={page.error} />
      {pair ? (
        <Compared
          // Other takes or another letter begin with the frames proposed for them.
          key={`${pair.then.take}-${pair.now.take}-${pair.phase}`}
          pair={pair}
          name={page.data.name}
          face={wanted.face ?? false}
          choose={choose}
          trend={
            <TrendPanel
              key={pair.measures[0]}
              student={student}
              first={pair.measures[0] ?? "focus"}
            />
          }
        />
      ) : (
        <div className="py-5 text-center">
          <p className="fs-4 serif">There are no two takes to lay side by side yet.</p>
          <p className="faint">
            It needs two measured takes from the same side.{" "}
            <Link to={`/students/${student}`}>Send the next clip of {page.data.name}.</Link>
          </p>
        </div>
      )}
    </main>
  );
}

type Choose = (part: Record<string, string | null>) => void;

function Heading({ page, choose }: { page: ThenAndNow; choose: Choose }) {
  const { pair } = page;
  const alike = page.takes.filter((t) => t.view === pair?.view);
  const at = (id: number) => alike.findIndex((t) => t.id === id);
  return (
    <div className="d-flex align-items-baseline gap-3 flex-wrap mb-2">
      <h1 className="mb-0">
        <Link to={`/students/${page.student}`} className="text-body text-decoration-none">
          {page.name}
        </Link>
      </h1>
      <span className="faint serif fs-4">then and now</span>
      <span className="flex-fill" />
      {pair && (
        <>
          {(["front", "side"] as const).every((view) =>
            page.takes.some((t) => t.view === view),
          ) && (
            <Form.Select
              size="sm"
              className="w-auto"
              aria-label="View"
              value={pair.view}
              onChange={(event) => {
                const newest = page.takes.find((t) => t.view === event.target.value);
                choose({ then: null, now: String(newest?.id), phase: null });
              }}
            >
              <option value="front">From the front</option>
              <option value="side">From the side</option>
            </Form.Select>
          )}
          <TakeChoice
            label="Then"
            value={pair.then.take}
            takes={alike.filter((t) => at(t.id) > at(pair.now.take))}
            choose={(id) => choose({ then: id, now: String(pair.now.take) })}
          />
          <TakeChoice
            label="Now"
            value={pair.now.take}
            takes={alike.filter((t) => at(t.id) < at(pair.then.take))}
            choose={(id) => choose({ then: String(pair.then.take), now: id })}
          />
          {pair.phases.length > 1 && (
            <label className="d-flex gap-2 align-items-baseline">
              Letter
              <Form.Select
                size="sm"
                value={pair.phase}
                onChange={(event) => choose({ phase: event.target.value })}
              >
                {pair.phases.map((phase) => (
                  <option key={phase}>{phase}</option>
                ))}
              </Form.Select>
            </label>
          )}
        </>
      )}
    </div>
  );
}

interface TakeChoiceProps {
  label: string;
  value: number;
  takes: ThenAndNow["takes"];
  choose: (id: string) => void;
}

function TakeChoice({ label, value, takes, choose }: TakeChoiceProps) {
  return (
    <label className="d-flex gap-2 align-items-baseline">
      {label}
      <Form.Select size="sm" value={value} onChange={(event) => choose(event.target.value)}>
        {takes.map((take) => (
          <option key={take.id} value={take.id}>
            {shortDay(noon(take.filmed_on))}
          </option>
        ))}
      </Form.Select>
    </label>
  );
}

interface ComparedProps {
  pair: Pair;
  name: string;
  face: boolean;
  choose: Choose;
  trend: React.ReactNode;
}

function Compared({ pair, name, face, choose, trend }: ComparedProps) {
  const [way, setWay] = useState<Way>("beside");
  const [steps, setSteps] = useState({ then: 0, now: 0 });
  const [mix, setMix] = useState(0);
  const [edge, setEdge] = useState(0.5);
  const then = shotOf(pair.then, stepped(pair.then, steps.then));
  const now = shotOf(pair.now, stepped(pair.now, steps.now));
  const step = (which: "then" | "now", by: number) =>
    setSteps((before) => ({ ...before, [which]: before[which] + by }));
  const slide = (by: number) => {
    const bounded = (value: number) => Math.min(Math.max(value + by, 0), 1);
    if (way === "over") setMix(bounded);
    if (way === "edge") setEdge(bounded);
  };
  useKeys({
    "1": () => setWay("beside"),
    "2": () => setWay("over"),
    "3": () => setWay("edge"),
    q: () => step("now", -1),
    w: () => step("now", 1),
    "Shift+q": () => step("then", -1),
    "Shift+w": () => step("then", 1),
    ArrowLeft: () => slide(-0.05),
    ArrowRight: () => slide(0.05),
  });
  if (!then || !now) return <p>The takes show no frame of this letter.</p>;
  const words = {
    then: `Then: ${day(pair.then.filmed_on)}`,
    now: `Now: ${day(pair.now.filmed_on)}`,
  };
  return (
    <div className="then-now-columns">
      <section aria-label="Pictures">
        <div className="d-flex gap-3 align-items-center flex-wrap mb-2">
          <ButtonGroup size="sm" aria-label="How to compare">
            {(Object.keys(WAYS) as Way[]).map((one) => (
              <Button
                key={one}
                variant={way === one ? "secondary" : "outline-secondary"}
                aria-pressed={way === one}
                onClick={() => setWay(one)}
              >
                {WAYS[one]}
              </Button>
            ))}
          </ButtonGroup>
          <span className="flex-fill" />
          {pair.view === "front" && (
            <Form.Check
              id="whole-face"
              label="Whole face"
              checked={face}
              onChange={(event) => choose({ face: event.target.checked ? "1" : null })}
            />
          )}
        </div>
        {way === "beside" ? (
          <div className="two-pictures">
            <Framed shot={then} words={words.then} step={(by) => step("then", by)}>
              {(width) => (
                <Aligned pair={pair} shot={then} width={width} label={words.then} lines />
              )}
            </Framed>
            <Framed shot={now} words={words.now} step={(by) => step("now", by)}>
              {(width) => (
                <Aligned pair={pair} shot={now} width={width} label={words.now} lines />
              )}
            </Framed>
          </div>
        ) : (
          <Framed
            shot={now}
            words={words.now}
            step={(by) => step("now", by)}
            beside={
              way === "over" ? (
                <Slide
                  label="Fade the older picture in"
                  words={`Dashed: the mouth of ${day(pair.then.filmed_on)}.`}
                  value={mix}
                  set={setMix}
                />
              ) : (
                <Slide
                  label="Move the edge"
                  words={`Left of it ${day(pair.then.filmed_on)}, right of it ${day(pair.now.filmed_on)}.`}
                  value={edge}
                  set={setEdge}
                />
              )
            }
          >
            {(width) => (
              <Aligned
                pair={pair}
                shot={now}
                width={width}
                label={`${words.then}. ${words.now}`}
                over={then}
                mix={mix}
                edge={way === "edge" ? edge : null}
                ghost={way === "over" ? then : null}
              />
            )}
          </Framed>
        )}
        {pair.mirrored && (
          <p className="kicker mb-0">
            The newer take looks the other way; it is mirrored here so that both can be
            compared.
          </p>
        )}
      </section>
      <div className="changes">
        <Changes pair={pair} name={name} face={face} />
        {trend}
      </div>
    </div>
  );
}

/** The frame so many steps from the proposed one. */
function stepped(side: Pair["then"], steps: number): number | null {
  const at = side.frames.findIndex((frame) => frame.frame === side.proposed);
  const wanted = Math.min(Math.max(at + steps, 0), side.frames.length - 1);
  return side.frames[wanted]?.frame ?? null;
}

interface FramedProps {
  shot: Shot;
  words: string;
  step: (by: number) => void;
  beside?: React.ReactNode;
  children: (width: number) => React.ReactNode;
}

/** A picture as wide as there is room, with what it is and the way to another frame. */
function Framed({ shot, words, step, beside, children }: FramedProps) {
  const [box, size] = useBox<HTMLElement>();
  // Both picture and sentences on one screen of a laptop.
  const tallest = Math.max(window.innerHeight - 260, 260);
  const ratio = heightOf(shot.side.drawing, 1);
  const width = Math.max(Math.min(size.width, tallest / ratio), 80);
  return (
    <figure className="mb-0" ref={box}>
      <div className="d-flex gap-4">
        <div style={{ width }}>{size.width > 0 && children(width)}</div>
        {beside}
      </div>
      <figcaption className="d-flex gap-2 align-items-baseline">
        <strong className="serif fs-5">{words}</strong>
        <span className="btn-group btn-group-sm ms-2">
          <Button
            variant="outline-secondary"
            aria-label={`${words}: frame before`}
            onClick={() => step(-1)}
          >
            ‹
          </Button>
          <Button
            variant="outline-secondary"
            aria-label={`${words}: next frame`}
            onClick={() => step(1)}
          >
            ›
          </Button>
        </span>
      </figcaption>
    </figure>
  );
}

interface SlideProps {
  label: string;
  words: string;
  value: number;
  set: (value: number) => void;
}

function Slide({ label, words, value, set }: SlideProps) {
  return (
    <div className="slide">
      <Form.Group controlId="slide">
        <Form.Label>{label}</Form.Label>
        <Form.Range
          min={0}
          max={1}
          step={0.01}
          value={value}
          onChange={(event) => set(Number(event.target.value))}
        />
      </Form.Group>
      <p className="faint">
        {words} <kbd>←</kbd> <kbd>→</kbd> slide it.
      </p>
    </div>
  );
}

const SHAPES: Record<Change["answer"], string> = {
  "clearly better": "clear",
  "clearly worse": "focus",
  "clearly different": "watch",
  "no clear change": "same",
  "can't tell": "cant-tell",
};

function Changes({ pair, name, face }: { pair: Pair; name: string; face: boolean }) {
  const first = pair.changes.filter((c) => c.focus);
  const others = pair.changes.filter((c) => !c.focus && c.answer !== "can't tell");
  const clear = others.filter((c) => c.answer !== "no clear change");
  const same = others.filter((c) => c.answer === "no clear change");
  return (
    <section aria-label="What has changed">
      <p className="kicker mb-1">
        {pair.focus_name
          ? `${pair.slip ? "Focus" : "Was the focus"}: ${pair.focus_name}`
          : "Nothing is worked on"}
      </p>
      {first.map((change, n) => (
        <p
          key={change.measure}
          className={n === 0 ? "serif fs-3 lh-sm mb-2" : "mb-2"}
          data-answer={change.answer}
        >
          <Glyph shape={SHAPES[change.answer]} size={n === 0 ? 22 : 16} /> {change.sentence}
        </p>
      ))}
      {pair.focus !== null && first.length === 0 && (
        <p>
          {pair.seen_from.length === 0
            ? "No camera measures this one. Tick what you hear and see on the Bench."
            : `It shows from the ${pair.seen_from.join(" and the ")}.`}
        </p>
      )}
      {clear.length > 0 && (
        <h2 className="h5 mt-3">{first.length > 0 ? "Changed as well" : "Clearly changed"}</h2>
      )}
      <ul className="list-unstyled mb-2">
        {clear.map((change) => (
          <li key={change.measure} className="border-top py-1" data-answer={change.answer}>
            <Glyph shape={SHAPES[change.answer]} /> {change.sentence}
          </li>
        ))}
      </ul>
      {same.length > 0 && (
        <details>
          <summary>No clear change in {same.length} more</summary>
          <ul className="list-unstyled mb-0 mt-1">
            {same.map((change) => (
              <li key={change.measure} className="border-top py-1 faint">
                {change.sentence}
              </li>
            ))}
          </ul>
        </details>
      )}
      <p className="mt-3 mb-0">
        {pair.slip && (
          <a
            className="btn btn-primary btn-sm me-1"
            href={slipAddress(pair.now.take, face)}
            target="_blank"
            rel="noreferrer"
          >
            Slip for {name.split(" ")[0]}
          </a>
        )}
        <Link className="btn btn-outline-secondary btn-sm" to={`/takes/${pair.now.take}`}>
          On the Bench
        </Link>
      </p>
    </section>
  );
}
