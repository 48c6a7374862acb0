/** State as a shape: always with a word beside it, never colour alone. */
import type { Chair } from "../api/client";
import { t } from "./words";

type ChairState = Chair["state"];

const SHAPES: Record<string, React.ReactNode> = {
  "no-consent": (
    <>
      <circle cx="8" cy="8" r="6" fill="none" />
      <path d="M4 12 12 4" />
    </>
  ),
  // A picture that is crossed out.
  "consent-ended": (
    <>
      <path d="M2 4h12v9H2z" fill="none" />
      <path d="M1 15 15 1" />
    </>
  ),
  "nothing-filmed": <circle cx="8" cy="8" r="6" fill="none" strokeDasharray="2.5 2.2" />,
  "being-read": (
    <>
      <circle cx="8" cy="8" r="6" fill="none" />
      <path d="M8 2a6 6 0 0 1 0 12z" fill="currentColor" stroke="none" />
    </>
  ),
  failed: <path d="M3 3 13 13 M13 3 3 13" strokeWidth="2.2" />,
  "needs-marks": (
    <>
      <path d="M8 1v14M1 8h14" />
      <circle cx="8" cy="8" r="3.4" fill="none" />
    </>
  ),
  "new-take": <circle cx="8" cy="8" r="6" fill="currentColor" stroke="none" />,
  // A day on the strip that has come.
  "recheck-due": (
    <>
      <path d="M2 3h12v11H2z M5 1v4M11 1v4" fill="none" />
      <path d="M5 9l2.4 2.6L11.4 7" fill="none" strokeWidth="2" />
    </>
  ),
  // The measured line that leaves its band.
  focus: (
    <>
      <path d="M1 11h14" strokeWidth="1" />
      <path d="M1 13C6 13 8 10 10 6l2-4" strokeWidth="2.2" fill="none" />
    </>
  ),
  clear: (
    <>
      <path d="M1 4h14M1 12h14" strokeWidth="1" />
      <path d="M1 9c3-2 5 1 7 0s4-2 7-1" strokeWidth="2" fill="none" />
    </>
  ),
  // The measured line that touches the edge of its band.
  watch: (
    <>
      <path d="M1 4h14M1 12h14" strokeWidth="1" />
      <path d="M1 9C5 9 6 6 9 4l2-2 2 2 2 2" strokeWidth="2" fill="none" />
    </>
  ),
  // Then and now lie on each other.
  same: <path d="M2 6.5h12M2 9.5h12" strokeWidth="2" />,
  // The sand has run through.
  "keep-over": <path d="M3 2h10M3 14h10M4 2c0 5 8 7 8 12M12 2c0 5-8 7-8 12" fill="none" />,
  // The measured line that stays in its band and then is not known any more.
  unchecked: (
    <>
      <path d="M1 4h14M1 12h14" strokeWidth="1" />
      <path d="M1 9c3-2 5 1 7-.5" strokeWidth="2" fill="none" />
      <path d="M10 8h2M14 8h1" strokeWidth="2" />
    </>
  ),
  "cant-tell": (
    <>
      <path d="M1 4h14M1 12h14" strokeWidth="1" />
      <path d="M2 8h2M7 8h2M12 8h2" strokeWidth="2" />
    </>
  ),
};

const VERDICT_SHAPE: Record<string, string> = {
  fault: "focus",
  watch: "watch",
  "in band": "clear",
  "can't tell": "cant-tell",
  "not checked": "unchecked",
  added: "focus",
  "no band": "nothing-filmed",
};

/** Verdicts as they are called on screen; "band" there is the teacher's band. */
const VERDICT_WORDS: Record<string, string> = {
  fault: t("fault"),
  watch: t("watch"),
  "in band": t("within standard"),
  "can't tell": t("can't tell"),
  "not checked": t("not checked"),
  added: t("added"),
  "no band": t("no limit"),
};

export function verdictWords(verdict: string): string {
  return VERDICT_WORDS[verdict] ?? verdict;
}

export function Glyph({ shape, size = 16 }: { shape: string; size?: number }) {
  return (
    <svg
      className="flex-shrink-0"
      width={size}
      height={size}
      viewBox="0 0 16 16"
      stroke="currentColor"
      strokeWidth="1.6"
      aria-hidden
    >
      {SHAPES[shape]}
    </svg>
  );
}

export function Verdict({ verdict, words }: { verdict: string; words?: string }) {
  const name = verdict.replace("'", "").replace(" ", "-");
  return (
    <span className={`verdict ${name}`}>
      <Glyph shape={VERDICT_SHAPE[verdict] ?? "cant-tell"} size={14} />
      {words ?? verdictWords(verdict)}
    </span>
  );
}

/** The word for a chair's state. */
export function chairWords(chair: Chair): string {
  const words: Record<ChairState, string> = {
    "no-consent": t("No consent"),
    "consent-ended": t("Closed"),
    "nothing-filmed": t("Not filmed"),
    "being-read": t("Being analysed"),
    failed: t("Can't be analysed"),
    "needs-marks": t("Needs marks"),
    "new-take": t("New take"),
    "recheck-due": t("Recheck due"),
    "keep-over": t("Past keep-until date"),
    focus: chair.take?.focus_name ?? t("Focus"),
    clear: t("Within standard"),
    watch: t("To watch"),
    "cant-tell": t("Can't tell"),
    unchecked: t("Partly checked"),
  };
  return words[chair.state];
}
