/** The stops of the tour: what is shown, on which page, and in which words. */
import type { BandPage, Chair } from "../api/client";
import { t } from "../shared/words";

export interface Stop {
  /** Address of its page. */
  page: string;
  /** What is lit, as a CSS selector. */
  shows: string;
  title: string;
  words: string;
}

/** A tour through this band: as far as there is something to show. */
export function stopsOf(sections: BandPage["sections"]): Stop[] {
  const chairs = sections.flatMap((section) => section.chairs);
  const filmed = (...states: Chair["state"][]) =>
    chairs.find((chair) => states.includes(chair.state) && chair.take?.state === "ready");
  const judged = filmed("new-take", "focus", "recheck-due", "watch", "clear");
  const planned = chairs.find((chair) => chair.due !== null) ?? judged;
  return [
    {
      page: "/",
      shows: ".band-screen > section",
      title: t("Your band"),
      words: t(
        "Every student with what comes next: a new take to review, a recheck that is due, or what they work on now. Click one to go on there.",
      ),
    },
    {
      page: "/",
      shows: ".next-for-you",
      title: t("Next for you"),
      words: t(
        "What needs you, most urgent first. Takes say whether a fault was found; those without one can be marked as reviewed together.",
      ),
    },
    {
      page: "/",
      shows: ".band-heading",
      title: t("Clips in, slips out"),
      words: t(
        "Upload the clips from your phone, or open the booth and let the class film itself. Print the slips: one thing to fix for each student, with its drill.",
      ),
    },
    ...(judged?.take ? bench(`/takes/${judged.take.id}`) : []),
    ...(planned ? student(`/students/${planned.id}`) : []),
    {
      page: "/help",
      shows: ".help",
      title: t("All of it to read"),
      words: t(
        "The handbook says how to film, what is measured and how far it can be trusted. Press ? on any page for its shortcuts.",
      ),
    },
  ];
}

function bench(page: string): Stop[] {
  return [
    {
      page,
      shows: ".window",
      title: t("What was filmed"),
      words: t(
        "The clip with what Sulvet sees: corners, lips, cheeks, chin and mouthpiece. Is a mark in the wrong place? Drag it, and everything is measured again.",
      ),
    },
    {
      page,
      shows: ".bench .margin",
      title: t("What was found"),
      words: t(
        "Faults with their size, how sure that is, and the limit for this instrument. One of them is the focus: fix that first. Confirm or dismiss; the last word is yours.",
      ),
    },
    {
      page,
      shows: ".score",
      title: t("How it went along"),
      words: t(
        "Each measurement from the relaxed face to the end of the note; green is within standard. Click the name of one to read what it is.",
      ),
    },
  ];
}

function student(page: string): Stop[] {
  return [
    {
      page,
      shows: ".plan",
      title: t("Two weeks with one drill"),
      words: t(
        "The focus becomes a plan: a drill a day, a page for the student's phone, and a recheck after two weeks.",
      ),
    },
    {
      page,
      shows: ".student-takes",
      title: t("Then and now"),
      words: t(
        "Every take of this student. Two of them are laid over each other to see what has changed.",
      ),
    },
  ];
}
