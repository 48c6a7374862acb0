/** The student's page: the one thing, how to practise it, and what the student says to it. */
import { useState, type FormEvent } from "react";
import { Button, Form } from "react-bootstrap";
import type { PhonePage } from "../api/links";
import {
  useOwnPairs,
  useOwnThenNow,
  usePracticePage,
  useSaying,
  withUnsent,
  type PracticePage,
  type Saying,
} from "../api/practice";
import { Pairs } from "../eye/Pairs";
import { DrillView } from "../lessons/DrillView";
import { NoteButton } from "../shared/NoteButton";
import { counted, noon, today, listed } from "../shared/format";
import { Refused, Waiting } from "../shared/states";
import { useOffline } from "./offline";
import { SendClip } from "./SendClip";
import { ThenNowOverlay } from "./ThenNowOverlay";
import { locale, t } from "../shared/words";

type Say = (saying: Saying) => void;
type Exercise = PracticePage["exercises"][number];

export function PracticeScreen({ token, asked }: { token: string; asked: PhonePage }) {
  const kept = usePracticePage(token);
  const compared = useOwnThenNow(token);
  const { say, unsent, refused } = useSaying(token);
  useOffline(token);
  if (kept.isPending) return <Waiting what={t("your page")} />;
  if (kept.isError)
    return (
      <main className="phone">
        <h1>{t("Hello, {{name}}", { name: asked.name })}</h1>
        <Refused error={kept.error} />
      </main>
    );
  const page = withUnsent(kept.data, unsent);
  const due = page.film_on !== null && page.film_on <= today();
  return (
    <main className="phone practice">
      <title>{t("My practice")}</title>
      <h1>{t("Hello, {{name}}", { name: page.name })}</h1>
      <p role="status" className="mb-0">
        {unsent.length > 0 &&
          t("Not sent yet: {{thing}}, kept here until there is a connection.", {
            thing: counted(unsent.length, "thing"),
          })}
      </p>
      <Refused error={refused} />
      {page.focus ? (
        <section aria-labelledby="focus-title">
          <h2 id="focus-title">{t("Your one thing")}</h2>
          <p className="focus serif">{page.focus}</p>
          <Today days={page.days} say={say} />
        </section>
      ) : (
        <p className="fs-4">
          {page.exercises.some((one) => one.running)
            ? t("Your exercises for these days:")
            : t("Your teacher has set nothing to work on at the moment.")}
        </p>
      )}
      {page.drills.map((drill) => (
        <DrillView key={drill.id} drill={drill} open />
      ))}
      {page.targets.length > 0 && (
        <section aria-labelledby="notes-title">
          <h2 id="notes-title">{t("Your note")}</h2>
          <div className="d-flex flex-wrap gap-2">
            {page.targets.map((one) => (
              <NoteButton
                key={`${one.stage} ${one.pitch}`}
                pitch={one.pitch}
                hz={one.hz}
                words={one.stage_words}
              />
            ))}
          </div>
        </section>
      )}
      {page.exercises.map((one) => (
        <GivenExercise key={one.id} exercise={one} say={say} />
      ))}
      {compared.data?.shown && <ThenNowOverlay shown={compared.data.shown} />}
      <WhichOne token={token} />
      <section aria-labelledby="film-title">
        <h2 id="film-title">{t("Film yourself")}</h2>
        {page.film_on && (
          <p className="fs-5">
            {due
              ? t("It is time to film again.")
              : t("Next time: {{film_on}}.", { film_on: weekday(page.film_on) })}
          </p>
        )}
        <details open={due || undefined}>
          <summary className="fs-5">{t("How to film and send")}</summary>
          <SendClip token={token} asked={asked} />
        </details>
      </section>
      {page.reeds.length > 0 && <ReedOfToday reeds={page.reeds} say={say} />}
      <WhatWasHard said={page.said} say={say} />
      <p className="caution">{page.caution}</p>
    </main>
  );
}

function weekday(iso: string): string {
  return new Date(noon(iso)).toLocaleDateString(locale(), {
    weekday: "long",
    day: "numeric",
    month: "long",
  });
}

/** The two weeks; the day that counts now is one large button. */
function Today({ days, say }: { days: PracticePage["days"]; say: Say }) {
  const now = days.find((one) => one.date === today());
  const tick = (date: string, done: boolean) => say({ do: "tick", date, done, exercise: null });
  return (
    <>
      {now && (
        <Button
          size="lg"
          className="w-100 mb-2"
          variant={now.mine ? "outline-primary" : "primary"}
          aria-pressed={now.mine}
          onClick={() => tick(now.date, !now.mine)}
        >
          {now.mine ? t("✓ Practised today") : t("I practised today")}
        </Button>
      )}
      <ol className="my-days" aria-label={t("Fourteen days")}>
        {days.map((one) => (
          <li key={one.number} data-today={one.date === today() || undefined}>
            <button
              type="button"
              aria-pressed={one.mine}
              disabled={one.date > today()}
              aria-label={`${weekday(one.date)}: ${told(one)}`}
              className={one.off ? "off" : undefined}
              onClick={() => tick(one.date, !one.mine)}
            >
              <span className="number">{Number(one.date.slice(8))}</span>
              <span aria-hidden className="tick">
                {one.mine ? "✓" : one.teachers ? "T" : one.off ? "–" : ""}
              </span>
            </button>
          </li>
        ))}
      </ol>
      {days.some((one) => one.teachers) && (
        <p className="kicker mb-2">{t("✓ your tick · T your teacher's")}</p>
      )}
    </>
  );
}

function told(one: PracticePage["days"][number]): string {
  const by = [one.mine && "you", one.teachers && t("your teacher")].filter(
    (one) => typeof one === "string",
  );
  if (by.length > 0) return t("ticked by {{who}}", { who: listed(by) });
  return one.off ? t("day off") : t("not ticked");
}

function GivenExercise({ exercise, say }: { exercise: Exercise; say: Say }) {
  const done = exercise.mine.includes(today());
  const [why, setWhy] = useState<string | null>(null);
  return (
    <section className="exercise">
      <h2>{exercise.name}</h2>
      {exercise.about && <p className="mb-1">{exercise.about}</p>}
      {exercise.running ? (
        <>
          {exercise.drills.map((drill, n) => (
            <DrillView key={n} drill={drill} />
          ))}
          <Button
            variant={done ? "outline-primary" : "primary"}
            aria-pressed={done}
            onClick={() =>
              say({ do: "tick", date: today(), done: !done, exercise: exercise.id })
            }
          >
            {done ? t("✓ Done today") : t("Done today")}
          </Button>
        </>
      ) : why === null ? (
        <Button variant="outline-secondary" onClick={() => setWhy("")}>
          {t("I did last week's again")}
        </Button>
      ) : (
        <WordForm
          label={t("Why again? One sentence")}
          send={(text) => {
            say({ do: "word", text, exercise: exercise.id });
            setWhy(null);
          }}
        />
      )}
    </section>
  );
}

/** A game for the eye: loaded only when it is opened. */
function WhichOne({ token }: { token: string }) {
  const [open, setOpen] = useState(false);
  const rows = useOwnPairs(token, open);
  return (
    <section aria-labelledby="pairs-title">
      <h2 id="pairs-title">{t("Train your eye")}</h2>
      {!open && (
        <Button variant="outline-primary" onClick={() => setOpen(true)}>
          {t("Which one is as it should be?")}
        </Button>
      )}
      {open && rows.isPending && <Waiting what={t("two players")} />}
      {rows.isError && <Refused error={rows.error} />}
      {rows.data && (
        <>
          <p className="fs-5">{t("Tap the one that is as it should be.")}</p>
          <Pairs rows={rows.data} />
        </>
      )}
    </section>
  );
}

function ReedOfToday({ reeds, say }: { reeds: PracticePage["reeds"]; say: Say }) {
  return (
    <section aria-labelledby="reeds-title">
      <h2 id="reeds-title">{t("Which reed did you play today?")}</h2>
      <div className="d-flex flex-wrap gap-2">
        {reeds.map((one) => {
          const played = one.last_on === today();
          return (
            <Button
              key={one.id}
              size="lg"
              variant={played ? "primary" : "outline-secondary"}
              aria-pressed={played}
              aria-label={t("Reed {{slot}}{{more}}", {
                slot: one.slot,
                more: one.following ? t(", its turn is next") : "",
              })}
              onClick={() => say({ do: "reed", reed: one.id, date: today() })}
            >
              {played && "✓ "}
              {one.slot}
              {one.following && !played && <span className="d-block next">{t("next")}</span>}
            </Button>
          );
        })}
      </div>
    </section>
  );
}

function WhatWasHard({ said, say }: { said: PracticePage["said"]; say: Say }) {
  return (
    <section aria-labelledby="hard-title">
      <h2 id="hard-title">{t("What was hard?")}</h2>
      <WordForm
        label={t("A word to your teacher")}
        send={(text) => say({ do: "word", text, exercise: null })}
      />
      {said.map((one, n) => (
        <p key={n} className="mb-1">
          <span className="faint">{one.day ? weekday(one.day) : t("not sent yet")}:</span>{" "}
          {one.text}
        </p>
      ))}
    </section>
  );
}

function WordForm({ label, send }: { label: string; send: (text: string) => void }) {
  const [text, setText] = useState("");
  return (
    <Form
      className="mb-2"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        send(text);
        setText("");
      }}
    >
      <Form.Control
        as="textarea"
        rows={2}
        required
        maxLength={200}
        aria-label={label}
        placeholder={label}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit" variant="outline-primary" className="mt-2">
        {t("Send")}
      </Button>
    </Form>
  );
}
