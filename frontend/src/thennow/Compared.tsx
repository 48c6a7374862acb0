/** Two takes beside each other, laid over, or with a moving edge. */
import { useState } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import type { Pair, PairSide } from "../api/records";
import { day } from "../shared/format";
import { useBox } from "../shared/useBox";
import { bound } from "../shared/shortcuts";
import { useKeys } from "../shared/useKeys";
import { Aligned, heightOf, shotOf, type Shot } from "./Aligned";
import { ByEar } from "./ByEar";
import { Changes } from "./Changes";
import type { Choose } from "./PairHeading";
import { useVeil } from "../shared/veil";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

const WAYS = {
  beside: t("Side by side"),
  over: t("Overlaid"),
  edge: t("Moving edge"),
} as const;
type Way = keyof typeof WAYS;

interface ComparedProps {
  pair: Pair;
  name: string;
  face: boolean;
  choose: Choose;
  trend: React.ReactNode;
}

export function Compared({ pair, name, face, choose, trend }: ComparedProps) {
  const veiled = useVeil();
  const [way, setWay] = useState<Way>("beside");
  const [steps, setSteps] = useState({ then: 0, now: 0 });
  const [mix, setMix] = useState(0);
  const [edge, setEdge] = useState(0.5);
  const then = shotOf(pair.then, stepped(pair.then, steps.then));
  const now = shotOf(pair.now, stepped(pair.now, steps.now));
  const step = (which: "then" | "now", by: number) =>
    setSteps((before) => ({ ...before, [which]: bounded(pair[which], before[which] + by) }));
  const slide = (by: number) => {
    const slid = (value: number) => Math.min(Math.max(value + by, 0), 1);
    if (way === "over") setMix(slid);
    if (way === "edge") setEdge(slid);
  };
  useKeys({
    ...bound(
      "thenNow",
      {
        beside: () => setWay("beside"),
        over: () => setWay("over"),
        edge: () => setWay("edge"),
        "frame-back": () => step("now", -1),
        "frame-on": () => step("now", 1),
      },
      { "frame-back": () => step("then", -1), "frame-on": () => step("then", 1) },
    ),
    ArrowLeft: () => slide(-0.05),
    ArrowRight: () => slide(0.05),
  });
  if (!then || !now) return <p>{t("The takes have no frame of this phase.")}</p>;
  const words = {
    then: `Then: ${day(pair.then.filmed_on)}`,
    now: `Now: ${day(pair.now.filmed_on)}`,
  };
  return (
    <div className="then-now-columns">
      <section aria-label={t("Pictures")}>
        <div className="d-flex gap-3 align-items-center flex-wrap mb-2">
          <ButtonGroup size="sm" aria-label={t("How to compare")}>
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
          {pair.view === "front" && !veiled && (
            <Form.Check
              id="whole-face"
              label={t("Whole face")}
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
                  label={t("Fade in the older picture")}
                  words={t("Dashed: the mouth of {{then}}.", {
                    then: day(pair.then.filmed_on),
                  })}
                  value={mix}
                  set={setMix}
                />
              ) : (
                <Slide
                  label={t("Move the edge")}
                  words={t("Left of it {{then}}, right of it {{now}}.", {
                    then: day(pair.then.filmed_on),
                    now: day(pair.now.filmed_on),
                  })}
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
            {t(
              "The newer take faces the other way; it is mirrored here so that both can be compared.",
            )}
          </p>
        )}
      </section>
      <div className="changes">
        <Changes pair={pair} name={name} face={face} />
        <ByEar pair={pair} />
        {trend}
      </div>
    </div>
  );
}

function proposedAt(side: PairSide): number {
  return side.frames.findIndex((frame) => frame.frame === side.proposed);
}

/** Steps from the proposed frame that stay among the frames there are. */
function bounded(side: PairSide, steps: number): number {
  const at = proposedAt(side);
  return Math.min(Math.max(at + steps, 0), side.frames.length - 1) - at;
}

/** The frame so many steps from the proposed one. */
function stepped(side: PairSide, steps: number): number | null {
  return side.frames[proposedAt(side) + steps]?.frame ?? null;
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
    <figure className="framed mb-0" ref={box}>
      <div className="d-flex flex-wrap gap-4">
        <div style={{ width }}>{size.width > 0 && children(width)}</div>
        {beside}
      </div>
      <figcaption className="d-flex flex-wrap gap-2 align-items-baseline">
        <strong className="serif fs-5">{words}</strong>
        <span className="btn-group btn-group-sm ms-2">
          <Button
            variant="outline-secondary"
            aria-label={t("{{words}}: frame before", { words })}
            onClick={() => step(-1)}
          >
            ‹
          </Button>
          <Button
            variant="outline-secondary"
            aria-label={t("{{words}}: next frame", { words })}
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
        <Rich
          text="{{words}} <kbd>←</kbd> <kbd2>→</kbd2> slide it."
          values={{ words }}
          parts={{ kbd: <kbd />, kbd2: <kbd /> }}
        />
      </p>
    </div>
  );
}
