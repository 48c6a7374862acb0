import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { HeardExercise, Sound } from "../api/sound";
import { SoundPanel } from "./SoundPanel";

const { intended, exercises } = vi.hoisted(() => ({ intended: vi.fn(), exercises: vi.fn() }));
vi.mock("../api/sound", () => ({
  useIntendedNote: () => ({ mutate: intended, error: null, isPending: false }),
  useExercises: () => ({ data: exercises() as HeardExercise[] }),
}));

beforeEach(() => {
  exercises.mockReturnValue([]);
  intended.mockClear();
});
afterEach(cleanup);

function tone(part: Partial<NonNullable<Sound["tone"]>> = {}): NonNullable<Sound["tone"]> {
  return {
    start: 2.5,
    end: 6.5,
    counts: 4,
    hz: 349.2,
    note: "F4",
    written: "C5",
    cents: -12,
    lasts: 4,
    begins: "tongued",
    ends: "clean",
    scoop: 0,
    cracks: [],
    dips: 0,
    slide: null,
    vibrato: null,
    ...part,
  };
}

function sound(part: Partial<Sound> = {}): Sound {
  return {
    stale: false,
    has_sound: true,
    stage: "instrument",
    stage_label: "the instrument",
    stages: [{ id: "instrument", label: "the instrument" }],
    pitch: "F4",
    written: "C5",
    target_hz: 349.23,
    chosen: false,
    a4: 440,
    tempo: 60,
    tempo_range: { slowest: 30, quickest: 160 },
    targets: [],
    sentences: [],
    readings: [],
    tone: tone(),
    tones: [{ tone: tone(), faces: [] }],
    drifted: [],
    breaths: [],
    breath: null,
    ratio: null,
    ticks: [],
    moved: null,
    way_back: null,
    suspected: [],
    ...part,
  };
}

function show(heard: Sound) {
  const [goTo, add, tick] = [vi.fn(), vi.fn(), vi.fn()];
  const phases = [{ name: "hold" as const, start: 2.6, end: 6.4 }];
  render(
    <SoundPanel take={7} sound={heard} phases={phases} goTo={goTo} add={add} tick={tick} />,
  );
  return { goTo, add, tick };
}

describe("what is heard", () => {
  it("says why nothing is, and asks for no note of a clip without sound", () => {
    show(
      sound({ has_sound: false, tone: null, tones: [], sentences: ["The clip has no sound."] }),
    );
    expect(screen.getByText("The clip has no sound.")).toBeTruthy();
    expect(screen.queryByLabelText("Choose a note")).toBeNull();
    expect(screen.queryByText(/Played for/)).toBeNull();
  });

  it("goes to where the tone breaks and to each breath", () => {
    const { goTo } = show(
      sound({
        tone: tone({ cracks: [3.25] }),
        breaths: [{ start: 1.5, end: 2.1, dips: [], surges: [] }],
      }),
    );
    fireEvent.click(screen.getByRole("button", { name: "3.3 s" }));
    fireEvent.click(screen.getByRole("button", { name: "0.6 s at 1.5" }));
    expect(goTo.mock.calls).toEqual([[3.25], [1.5]]);
  });

  it("plays the tone that counts, another tone or a letter, and stops where that ends", () => {
    show(
      sound({
        tones: [tone(), tone({ note: "G4", start: 8, end: 9 })].map((one) => ({
          tone: one,
          faces: [],
        })),
      }),
    );
    const part = () => document.querySelector("audio")?.getAttribute("src");
    expect(part()).toBe("/private/takes/7/tone.wav?start=2.5");
    const choice = screen.getByLabelText("Choose a note");
    expect(
      within(choice)
        .getAllByRole("option")
        .map((o) => o.textContent),
    ).toEqual(["This note alone", "The G4 at 8.0 s", "The phase “hold”"]);
    fireEvent.change(choice, { target: { value: "1" } });
    expect(part()).toBe("/private/takes/7/tone.wav?start=8");
    fireEvent.change(choice, { target: { value: "2" } });
    expect(part()).toBe("/private/takes/7/clip.mp4#t=2.30,6.60");
  });

  it("asks the teacher where the picture speaks against the ear", () => {
    const { add } = show(
      sound({
        suspected: [
          {
            fault: "biting",
            name: "Biting",
            first_help: "Open the jaw.",
            confused_with: "A hard reed.",
            text: "Heard, not seen: jaw 0.06 ± 0.01 of rest higher.",
            heard: "Pitch against target",
            value: 160,
            uncertainty: 4,
            decimals: 0,
            unit: "cents",
          },
        ],
      }),
    );
    const group = screen.getByRole("group", { name: "Possible: Biting" });
    expect(group.textContent).toContain(
      "By pitch against target 160 ± 4 cents. Heard, not seen",
    );
    fireEvent.click(within(group).getByRole("button", { name: "Add as finding" }));
    expect(add).toHaveBeenCalledWith(
      "biting",
      "By pitch against target 160 ± 4 cents. Heard, not seen: jaw 0.06 ± 0.01 of rest higher.",
    );
  });

  it("ticks what it sounds like", () => {
    const { tick } = show(sound({ ticks: [{ id: "airy", label: "air in the tone" }] }));
    fireEvent.click(screen.getByRole("button", { name: "Tick" }));
    expect(tick).toHaveBeenCalledWith("airy");
  });

  it("shows an exercise as a row, each tone right or with what is wrong", () => {
    const place = {
      number: 1,
      do: "tone" as const,
      start: 2.5,
      end: 6.5,
      heard: 4.04,
      counts: 4,
      cents: 3,
      note: "F4",
      right: true,
      words: "right",
      by: "student" as const,
    };
    const one: HeardExercise = {
      name: "Four by four",
      why: "plan",
      tempo: 60,
      pass_mark: "Four tones alike.",
      expected: 4,
      right: 1,
      of: 2,
      passed: false,
      sentence: "1 of 2 right. Number 2: short.",
      places: [
        place,
        { ...place, number: 2, start: 9, heard: 2.61, right: false, words: "short" },
      ],
    };
    exercises.mockReturnValue([
      one,
      { ...one, name: "Silent", places: [], right: 0, of: 0, sentence: "" },
    ]);
    const { goTo } = show(sound());
    const played = screen.getByRole("group", { name: "Exercise as played: Four by four" });
    expect(played.textContent).toContain("1 of 2 right. Number 2: short.");
    expect(played.textContent).toContain("The whole exercise has 4.");
    expect(played.textContent).toContain("Not enough is right yet");
    fireEvent.click(within(played).getByTitle("Go to 9.0 s"));
    expect(goTo).toHaveBeenCalledWith(9);
    const silent = screen.getByRole("group", { name: "Exercise as played: Silent" });
    expect(silent.textContent).toContain("none of its 4 tones is heard");
  });

  it("sends what was to be played as the teacher says it", () => {
    show(sound({ chosen: true }));
    fireEvent.change(screen.getByLabelText("Note (concert pitch)"), {
      target: { value: "Bb4 " },
    });
    fireEvent.change(screen.getByLabelText("A4 ="), { target: { value: "442" } });
    fireEvent.change(screen.getByLabelText("Beats per minute"), { target: { value: "72" } });
    fireEvent.click(screen.getByText("Apply"));
    expect(intended).toHaveBeenCalledWith({
      stage: "instrument",
      pitch: "Bb4",
      a4: 442,
      tempo: 72,
    });
  });

  it("tells of a slide how it went and what the mouth did", () => {
    const moved = { value: 0.3, uncertainty: 0.3, unit: "%", verdict: "no band" as const };
    const slide = {
      low: "F4",
      high: "C5",
      semitones: 6.6,
      smooth: true,
      returns: false,
      back: 45,
    };
    show(sound({ tone: tone({ slide }), moved, way_back: { ...moved, value: 0.7 } }));
    const text = screen.getByRole("region", { name: "Sound analysis" }).textContent;
    expect(text).toContain("Slide over 6.6 half steps, F4 to C5; smooth, ending 45 cents");
    expect(text).toContain("The mouth's shape comes back to 0.7 ± 0.3");
    expect(text).toContain("During it the mouth moves 0.3 ± 0.3");
  });
});
