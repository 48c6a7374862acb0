/** One close-up: the photo with its marks, the reed to scale, and what to mend. */
import { useEffect, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useNavigate, useParams } from "react-router";
import { useCloseUp, useCloseUpEdits, type CloseUp } from "../api/closeups";
import { DeleteDialog } from "../shared/DeleteDialog";
import { Delayed } from "../shared/delayed";
import { day, inside } from "../shared/format";
import { useCalled } from "../shared/projector";
import { Refused, Trouble, Waiting } from "../shared/states";
import { bound, keyOf, keyWords } from "../shared/shortcuts";
import { useKeys, type Keys } from "../shared/useKeys";
import {
  asSent,
  covered,
  draftOf,
  kept,
  nextAsked,
  placed,
  ticked,
  withoutLast,
  type Draft,
  type Spot,
} from "./marks";
import { Photo } from "./Photo";
import { ReedDrawing } from "./ReedDrawing";
import { Where } from "./Where";
import { Findings, Readings, Ticks, WhichReed } from "./Told";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

/** A key that is held moves many times; the marks are sent once it rests so long, ms. */
const NUDGED = 350;
/** Arrow keys move a mark so many pixels; with Shift and with Alt. */
const STEP = { plain: 1, shift: 10, alt: 0.25 };

export default function CloseUpScreen() {
  const id = Number(useParams().id);
  const page = useCloseUp(id);
  if (page.isPending) return <Waiting what={t("the close-up")} />;
  if (page.isError) return <Trouble error={page.error} retry={() => void page.refetch()} />;
  return <Opened key={id} page={page.data} />;
}

function Opened({ page }: { page: CloseUp }) {
  const called = useCalled();
  const edits = useCloseUpEdits(page.id);
  const go = useNavigate();
  const [draft, setDraft] = useState(() => draftOf(page));
  const [held, select] = useState<string | null>(null);
  const [later] = useState(() => new Delayed());
  useEffect(() => () => later.flush(), [later]);
  const asked = nextAsked(page, draft);
  // The last mark is on its way: what is there tells of fewer.
  const behind = nextAsked(page, draftOf(page)) !== null;

  // Everything is sent each time: what waits is part of what comes after it.
  function keep(next: Draft, wait = 0) {
    setDraft(next);
    later.wait(wait, () => edits.mark.mutate(asSent(next)));
  }

  function place(at: Spot) {
    if (!asked) return;
    keep(placed(draft, asked.id, kept(page, at)));
    select(null);
  }

  function nudge(dx: number, dy: number, event: KeyboardEvent) {
    const spot = held === null ? undefined : draft.marks[held];
    if (held === null || !spot) return;
    const step = event.shiftKey ? STEP.shift : event.altKey ? STEP.alt : STEP.plain;
    const at = kept(page, { x: spot.x + dx * step, y: spot.y + dy * step });
    keep(placed(draft, held, at), NUDGED);
  }

  const keys: Keys = {
    Enter: () => {
      if (!asked) return;
      place({ x: page.width / 2, y: page.height / 2 });
      select(asked.id);
    },
    ...bound("closeUp", {
      mark: () => {
        const there = page.asked.map((mark) => mark.id).filter((one) => one in draft.marks);
        select(there[(there.indexOf(held ?? "") + 1) % there.length] ?? null);
      },
      hidden: () => {
        if (asked?.may_hide) keep(covered(draft, asked.id));
      },
      undo: () => keep(withoutLast(page, draft)),
    }),
    Escape: () => select(null),
  };
  for (const [key, dx, dy] of [
    ["ArrowLeft", -1, 0],
    ["ArrowRight", 1, 0],
    ["ArrowUp", 0, -1],
    ["ArrowDown", 0, 1],
  ] as const)
    for (const with_ of ["", "Shift+", "Alt+"])
      keys[with_ + key] = (event) => nudge(dx, dy, event);
  useKeys(keys);

  return (
    <main className="close-up">
      <title>{t("Reed close-up – Sulvet")}</title>
      <div className="heading">
        <h1>
          <Link to={`/students/${page.student}`}>{called(page.name)}</Link>
        </h1>
        <span className="faint">
          {t("{{instrument}}, reed close-up of {{taken_on}}", {
            instrument: page.instrument,
            taken_on: day(page.taken_on),
          })}
        </span>
        <span className="spacer" />
        <Link to="/reeds">{t("Reeds")}</Link>
        <DeleteDialog
          what={t("this close-up")}
          remove={() =>
            edits.remove.mutate(undefined, {
              onSuccess: () => void go(`/students/${page.student}`),
            })
          }
        >
          {t("The picture and all its measurements will be permanently deleted.")}
        </DeleteDialog>
      </div>
      <Photo
        page={page}
        draft={draft}
        held={held}
        asking={asked !== null}
        place={place}
        select={select}
        move={(id, at) => setDraft(placed(draft, id, kept(page, at)))}
        drop={() => keep(draft)}
      />
      <div className="sheet">
        {page.drawing && !asked ? (
          <ReedDrawing page={page} />
        ) : (
          <>
            {asked && <Where asked={asked.id} />}
            <p className="faint p-3 mb-0">
              {t("{{stands}} The drawing appears with the marks.", { stands: page.stands })}
            </p>
          </>
        )}
      </div>
      <aside aria-label={t("Result")}>
        <Refused
          error={
            edits.mark.error ?? edits.answer.error ?? edits.which.error ?? edits.remove.error
          }
        />
        {asked && (
          <Guide
            page={page}
            draft={draft}
            asked={asked}
            cover={() => keep(covered(draft, asked.id))}
          />
        )}
        {!asked && behind && <p role="status">{t("Measuring …")}</p>}
        {!asked && !behind && (
          <Findings
            page={page}
            answer={(fault, dismissed) => edits.answer.mutate({ fault, dismissed })}
          />
        )}
        {!asked && !behind && <Readings page={page} />}
        <Ticks page={page} ticked={draft.ticks} tick={(id) => keep(ticked(draft, id))} />
        <WhichReed page={page} choose={(reed) => edits.which.mutate(reed)} />
        {(Object.keys(draft.marks).length > 0 || draft.hidden.length > 0) && (
          <Button
            size="sm"
            variant="outline-secondary"
            className="mt-3"
            onClick={() => keep(withoutLast(page, draft))}
          >
            {t("Undo last mark")}
          </Button>
        )}
        <p className="faint mt-3">{page.caution}</p>
      </aside>
    </main>
  );
}

interface GuideProps {
  page: CloseUp;
  draft: Draft;
  asked: CloseUp["asked"][number];
  cover: () => void;
}

function Guide({ page, draft, asked, cover }: GuideProps) {
  const count = page.asked.indexOf(asked) + 1;
  return (
    <section aria-labelledby="asked-title">
      <span className="kicker">
        {t("Mark {{nth}} of {{all}}", { nth: count, all: page.asked.length })}
      </span>
      <h2 id="asked-title" className="h3">
        {t("Next: {{name}}", { name: inside(asked.name) })}
      </h2>
      <p className="fs-5 mb-2" role="status">
        {asked.guide}
      </p>
      <p className="faint mb-2">
        <Rich
          text="Roughly is enough: Sulvet finds the exact edge. Or press <kbd>Enter</kbd> and move it with the arrow keys."
          parts={{ kbd: <kbd /> }}
        />
      </p>
      {asked.may_hide && (
        <Button variant="outline-primary" onClick={cover}>
          {asked.may_hide} <kbd>{keyWords(keyOf("closeUp", "hidden"))}</kbd>
        </Button>
      )}
      <ol className="list-unstyled mt-3">
        {page.asked.map((mark) => {
          const done = mark.id in draft.marks || draft.hidden.includes(mark.id);
          return (
            <li
              key={mark.id}
              className={done ? "faint" : mark.id === asked.id ? "fw-bold" : undefined}
            >
              <span aria-hidden className="d-inline-block" style={{ width: "1.6rem" }}>
                {done ? "✓" : mark.id === asked.id ? "→" : ""}
              </span>
              {mark.name}
              {draft.hidden.includes(mark.id) && `: ${inside(mark.may_hide)}`}
            </li>
          );
        })}
      </ol>
    </section>
  );
}
