import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { BenchPage, Finding, Landmark } from "../api/client";
import { Guided, stillAsked } from "./Guided";
import { Findings, findingKey, inOrder, type Answers } from "./Findings";
import { KnownLength, Placing, roundAsked, thingMarked, type Round } from "./Placing";
import { pointsOn } from "./points";

afterEach(cleanup);

const smile: Finding = {
  fault: "smile",
  name: "Smile",
  shows: "Corners go up.",
  why: "Thin tone.",
  first_help: "Form oo.",
  child: "Say oo.",
  drill: "Mirror form: hold it.",
  confused_with: "A leaning head.",
  verdict: "fault",
  phase: "hold",
  start: 2,
  end: 3.5,
  holds: [],
  worst_frame: 77,
  evidence: [
    {
      measure: "corner_rise",
      name: "Corner rise",
      decimals: 1,
      value: 8.64,
      uncertainty: 1.5,
      limit: 5,
      edge: 3,
      unit: "deg",
    },
  ],
  reason: "",
  focus: true,
  answer: null,
  answer_reason: "",
  stage: "instrument" as const,
};

function page(part: Partial<BenchPage>): BenchPage {
  return {
    findings: [],
    unchecked: [],
    focus: { fault: null, why: "", waits: [] },
    set_up: null,
    depth: null,
    readings: [],
    marks: [],
    tracks: [],
    phases: [],
    drawing: null,
    instrument: "Horn",
    school: "Two thirds upper lip",
    standard: "horn 1",
    lips: "",
    thing: "",
    asked_rest: ["ch_r", "ch_l"],
    asked_hold: [],
    asked_pair: [],
    known_length: { mm: null, shortest: 3, longest: 300 },
    scale: null,
    times: [],
    series: [],
    take: { message: "No face was found.", view: "front" },
    ...part,
  } as BenchPage;
}

function answers(part: Partial<Answers> = {}): Answers {
  return {
    decide: vi.fn(),
    goTo: vi.fn(),
    observe: vi.fn(),
    makeFocus: vi.fn(),
    dismissing: null,
    setDismissing: vi.fn(),
    ...part,
  };
}

describe("Findings", () => {
  it("says what, where, how much and what to try, and takes an answer", () => {
    const given = answers();
    render(<Findings page={page({ findings: [smile] })} answers={given} />);
    const card = screen.getByRole("article", { name: "Finding: Smile" });
    for (const text of ["2.0 to 3.5 s", "8.6 ± 1.5°", "limit 3.0°", "Form oo."])
      expect(card.textContent).toContain(text);
    fireEvent.click(screen.getByRole("button", { name: "Confirm" }));
    expect(given.decide).toHaveBeenCalledWith(smile, "confirmed");
    fireEvent.click(screen.getByRole("button", { name: "Worst frame" }));
    expect(given.goTo).toHaveBeenCalledWith(77);
    fireEvent.click(screen.getByRole("button", { name: "Dismiss" }));
    expect(given.setDismissing).toHaveBeenCalledWith({ key: "smile hold", reason: "" });
  });

  it("asks why before it dismisses", () => {
    const key = findingKey(smile);
    const given = answers({ dismissing: { key, reason: "he lau" } });
    render(<Findings page={page({ findings: [smile] })} answers={given} />);
    const reason = screen.getByLabelText<HTMLInputElement>(/Why do you dismiss this/);
    expect(reason.value).toBe("he lau");
    fireEvent.change(reason, { target: { value: "he laughed" } });
    expect(given.setDismissing).toHaveBeenCalledWith({ key, reason: "he laughed" });
    fireEvent.submit(reason);
    expect(given.decide).toHaveBeenCalledWith(smile, "dismissed", "he lau", "not-so");
    fireEvent.click(screen.getByRole("button", { name: "Later" }));
    expect(given.decide).toHaveBeenLastCalledWith(smile, "dismissed", "he lau", "later");
    expect(given.setDismissing).toHaveBeenLastCalledWith(null);
  });

  it("puts the focus first, and lets another finding become it", () => {
    const given = answers();
    const other = { ...smile, fault: "pucker", name: "Pucker", focus: false };
    const own = { ...other, fault: "x", name: "X", verdict: "added" as const, reason: "heard" };
    expect(inOrder([other, smile, own]).map((f) => f.fault)).toEqual(["smile", "pucker", "x"]);
    render(
      <Findings
        page={page({ findings: [other, smile, { ...own, answer: "added" }] })}
        answers={given}
      />,
    );
    expect(screen.getAllByText("Focus")).toHaveLength(1);
    fireEvent.click(
      screen.getAllByRole("button", { name: "Make this the focus" })[0] as Element,
    );
    expect(given.makeFocus).toHaveBeenCalledWith(other);
    expect(screen.getByText("“heard”")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Remove" }));
    expect(given.decide).toHaveBeenCalledWith(expect.objectContaining({ fault: "x" }), "");
  });

  it("shows an answer that was given, and lets it be taken back", () => {
    const given = answers();
    const told = { ...smile, answer: "dismissed" as const, answer_reason: "he laughed" };
    render(<Findings page={page({ findings: [told] })} answers={given} />);
    expect(screen.getByText(/he laughed/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Confirm" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Undo" }));
    expect(given.decide).toHaveBeenCalledWith(told, "");
  });

  it("says once why it can't tell, and names all that is not judged", () => {
    const untold = (name: string) => ({
      ...smile,
      fault: name.toLowerCase(),
      name,
      verdict: "can't tell" as const,
      reason: "There is no rest phase.",
    });
    render(
      <Findings
        page={page({ findings: [untold("Smile"), untold("Pucker")] })}
        answers={answers()}
      />,
    );
    expect(screen.getAllByText("There is no rest phase.")).toHaveLength(1);
    expect(screen.getByText(/Not assessed: smile, pucker/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Confirm" })).toBeNull();
  });

  it("says what was checked and what not, what to do about it, and by which standard", () => {
    const take = {
      ...page({}).take,
      headline: "Corners as they should be. Rim not checked",
      left: "Rim not checked",
    };
    const unchecked = [{ area: "Rim", why: "Mark five points round it." }];
    const { rerender } = render(
      <Findings page={page({ take, unchecked })} answers={answers()} />,
    );
    expect(screen.getByRole("heading").textContent).toBe(
      "Corners as they should be. Rim not checked",
    );
    expect(screen.getByText("Mark five points round it.")).toBeTruthy();
    expect(screen.getByText("not checked")).toBeTruthy();
    expect(screen.getByText(/By the standard Horn, two thirds upper lip/)).toBeTruthy();
    rerender(<Findings page={page({})} answers={answers()} />);
    expect(screen.getByRole("heading", { name: "Nothing to correct" })).toBeTruthy();
    expect(screen.queryByText("not checked")).toBeNull();
  });
});

const landmark = (id: string): Landmark => ({
  id,
  label: `the ${id}`,
  term: id,
  where: "there",
});
const LANDMARKS = [landmark("ch_r"), landmark("ch_l"), landmark("ex_r")];
const mark = (id: string, frame: number) => ({
  landmark: id,
  frame,
  x: 1,
  y: 2,
  hidden: false,
  source: "placed" as const,
});

describe("guided marking", () => {
  const show = (part: Partial<BenchPage>, frame = 4) => {
    const follow = vi.fn();
    const goTo = vi.fn();
    const notThere = vi.fn();
    render(
      <Guided
        page={page(part)}
        landmarks={LANDMARKS}
        frame={frame}
        goTo={goTo}
        follow={follow}
        notThere={notThere}
        starting={false}
      />,
    );
    return { follow, goTo, notThere };
  };
  const button = (name: string) => screen.getByRole("button", { name }) as HTMLButtonElement;

  it("asks for the required landmarks in order", () => {
    expect(stillAsked(page({}), LANDMARKS).map((l) => l.id)).toEqual(["ch_r", "ch_l"]);
    expect(stillAsked(page({ marks: [mark("ch_r", 4)] }), LANDMARKS).map((l) => l.id)).toEqual([
      "ch_l",
    ]);
    show({});
    expect(screen.getByRole("heading").textContent).toBe("Next: the ch_r");
    expect(button("Follow these marks").disabled).toBe(true);
  });

  it("takes for an answer that a point does not show", () => {
    const { notThere } = show({ marks: [{ ...mark("ch_r", 4), hidden: true }] });
    expect(screen.getByText(/ch_r – not in the picture/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: /Not visible/ }));
    expect(notThere).toHaveBeenCalled();
  });

  it("keeps to one frame", () => {
    const { goTo } = show({ marks: [mark("ch_r", 4)] }, 9);
    fireEvent.click(button("Go back to it"));
    expect(goTo).toHaveBeenCalledWith(4);
  });

  it("goes on once all are placed", () => {
    const { follow } = show({ marks: [mark("ch_r", 4), mark("ch_l", 4)] });
    fireEvent.click(button("Follow these marks"));
    expect(follow).toHaveBeenCalledTimes(1);
  });

  it("can look again where the teacher says the face rests", () => {
    const { follow } = show({
      phases: [{ name: "rest", start: 0, end: 1, by_teacher: true, guessed: false }],
    });
    fireEvent.click(button("Search “rest” again"));
    expect(follow).toHaveBeenCalledTimes(1);
  });
});

describe("pointsOn", () => {
  it("shows placed marks of the frame before there are tracks, tracks after", () => {
    const marks = [mark("ch_r", 4), mark("ch_l", 5)];
    expect(pointsOn(page({ marks }), 4).map((p) => p.landmark)).toEqual(["ch_r"]);
    const track = {
      landmark: "li",
      x: [1, null],
      y: [2, null],
      sigma: [0.5, null],
      source: ["found" as const, "none" as const],
      hidden: [false, true],
    };
    expect(pointsOn(page({ marks, tracks: [track] }), 0).map((p) => p.source)).toEqual([
      "found",
    ]);
    expect(pointsOn(page({ marks, tracks: [track] }), 1)).toEqual([]);
  });
});

describe("marking what is held to the mouth", () => {
  const all = [...LANDMARKS, landmark("rim_1"), landmark("rim_2"), landmark("hole_r")];
  const playing = (part: Partial<BenchPage> = {}) =>
    page({ equipment: "rim", asked_hold: ["rim_1", "rim_2"], ...part });

  it("asks for the instrument's own points, on this frame, one after the other", () => {
    const one = playing({ marks: [mark("rim_1", 40)] });
    expect(roundAsked(one, all, "hold", 40).map((l) => l.id)).toEqual(["rim_2"]);
    expect(roundAsked(one, all, "hold", 41).map((l) => l.id)).toEqual(["rim_1", "rim_2"]);
    const set = vi.fn();
    const shown = (round: Round | null) => (
      <Placing
        page={one}
        landmarks={all}
        frame={40}
        round={round}
        begin={set}
        notThere={vi.fn()}
      />
    );
    const { rerender } = render(shown(null));
    fireEvent.click(screen.getByRole("button", { name: "Mark the rim, 2 clicks" }));
    expect(set).toHaveBeenCalledWith("hold");
    rerender(shown("hold"));
    expect(screen.getByRole("heading", { name: "Next: the rim_2" })).toBeTruthy();
    expect(screen.getByText("Mark 2 of 2")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Cancel" }));
    expect(set).toHaveBeenLastCalledWith(null);
  });

  it("asks no more once all is marked outside the rest", () => {
    const phases = [
      { name: "rest", start: 0, end: 1, by_teacher: false, guessed: false },
    ] as BenchPage["phases"];
    const times = [0, 0.5, 1, 1.5, 2, 2.5];
    const both = (frame: number) => [mark("rim_1", frame), mark("rim_2", frame)];
    expect(thingMarked(playing({ marks: both(1), times, phases }))).toBe(false);
    const begin = vi.fn();
    const shown = (marks: BenchPage["marks"]) => (
      <Placing
        page={playing({ marks, times, phases, asked_pair: ["ch_r", "ch_l"] })}
        landmarks={all}
        frame={3}
        round={null}
        begin={begin}
        notThere={vi.fn()}
      />
    );
    // Then the corners once more at rest, and after that nothing.
    const { rerender, container } = render(shown(both(4)));
    fireEvent.click(screen.getByRole("button", { name: "Mark them at rest, 2 clicks" }));
    expect(begin).toHaveBeenCalledWith("rest");
    const corners = [mark("ch_r", 1), mark("ch_l", 1)];
    rerender(shown([...both(4), ...corners]));
    expect(container.textContent).toBe("");
  });

  it("asks for nothing that Sulvet found, but lets the teacher mark it anew", () => {
    const marks = ["rim_1", "rim_2"].map((id) => ({
      ...mark(id, 4),
      source: "found" as const,
    }));
    const begin = vi.fn();
    const page = playing({ marks });
    render(
      <Placing
        page={page}
        landmarks={all}
        frame={3}
        round={null}
        begin={begin}
        notThere={vi.fn()}
      />,
    );
    expect(screen.getByText(/Sulvet found the rim automatically/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Mark the rim yourself" }));
    expect(begin).toHaveBeenCalledWith("hold");
  });

  it("takes a length that the teacher has marked and knows", () => {
    const setLength = vi.fn();
    const scale = { taken_from: "iris", percent: 9.2 };
    const shown = (marks: BenchPage["marks"]) => (
      <KnownLength page={playing({ marks, scale })} begin={vi.fn()} setLength={setLength} />
    );
    const { rerender } = render(shown([]));
    expect(screen.getByText("Millimetres ± 9 %, by the width of the iris")).toBeTruthy();
    expect(screen.getByText<HTMLButtonElement>("Save").disabled).toBe(true);
    rerender(shown([mark("kl_a", 2), mark("kl_b", 2)]));
    fireEvent.change(screen.getByLabelText("Length, mm"), { target: { value: "12.5" } });
    fireEvent.submit(screen.getByText("Save").closest("form") as HTMLFormElement);
    expect(setLength).toHaveBeenCalledWith(12.5);
  });
});
