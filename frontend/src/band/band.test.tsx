import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, describe, expect, it } from "vitest";
import type { BandPage, Chair, Standard, TakeSummary } from "../api/client";
import { BandScreen } from "./BandScreen";
import { keys } from "../api/keys";

afterEach(cleanup);

const STANDARDS: Standard[] = [
  {
    instrument: "horn",
    name: "Horn",
    family: "brass",
    film: ["front", "side"],
    schools: [
      { id: "two-thirds", name: "Two thirds", sentence: "More upper lip." },
      { id: "seven-eighths", name: "Seven eighths", sentence: "Nearly all." },
    ],
  },
  {
    instrument: "trumpet",
    name: "Trumpet",
    family: "brass",
    film: ["front", "side"],
    schools: [{ id: "half", name: "Half", sentence: "Half." }],
  },
];

function chair(
  id: number,
  state: Chair["state"],
  take: Partial<TakeSummary> | null = null,
): Chair {
  return {
    id,
    name: `Student ${id}`,
    instrument: "horn",
    school: "",
    consent_on: null,
    consent_until: null,
    state,
    due: null,
    deleted_on: null,
    retain_until: null,
    focus: null,
    focus_name: null,
    opens: state === "new-take" || state === "needs-marks",
    take:
      take && ({ id: 10 * id, share: 0.42, filmed_on: "2026-11-20", ...take } as TakeSummary),
  };
}

function show(chairs: Chair[], next: BandPage["next"] = []) {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
  client.setQueryData<BandPage>(keys.band, {
    name: "Our band",
    warning: "",
    year: "",
    sections: chairs.length ? [{ id: 1, name: "Horns", arc: 2, chairs }] : [],
    next,
    lines: { front: [], side: [] },
  });
  client.setQueryData(keys.standards, STANDARDS);
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter>
        <BandScreen />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const address = (name: string | RegExp) =>
  screen.getByRole("link", { name }).getAttribute("href");

describe("BandScreen", () => {
  it("says what to do in an empty band", () => {
    show([]);
    expect(screen.getByRole("button", { name: "Add first student" })).toBeTruthy();
  });

  it("tells each chair's state in words and leads to what can be done", () => {
    show([
      chair(1, "new-take", {}),
      chair(2, "focus", { focus_name: "Smile" }),
      chair(3, "no-consent"),
      chair(4, "being-read", {}),
    ]);
    expect(address(/Student 1, Horns: ?New take/)).toBe("/takes/10");
    expect(address(/Student 2, Horns: ?Smile/)).toBe("/students/2");
    expect(address(/Student 3, Horns: ?No consent/)).toBe("/students/3");
    expect(address(/Student 4, Horns: ?Being analysed 42 %/)).toBe("/students/4");
  });

  it("opens the take that waits, in the given order", () => {
    show(
      [chair(1, "new-take", {})],
      [
        {
          student: 7,
          name: "Kaya",
          state: "needs-marks",
          what: "Place marks",
          take: 70,
          opens: true,
          clear: false,
        },
        {
          student: 8,
          name: "Ida",
          state: "nothing-filmed",
          what: "Film the first take",
          take: null,
          opens: false,
          clear: false,
        },
      ],
    );
    const list = screen.getByRole("heading", { name: "Next for you" })
      .parentElement as HTMLElement;
    expect(
      within(list)
        .getAllByRole("link")
        .map((a) => a.getAttribute("href")),
    ).toEqual(["/takes/70", "/students/8"]);
  });

  it("offers to review what is clear, in a group that is folded as well", () => {
    show(
      [chair(1, "new-take", {})],
      Array.from({ length: 30 }, (_, n) => ({
        student: n,
        name: `Student ${n}`,
        state: "new-take" as const,
        what: "Review the new take",
        take: 100 + n,
        opens: true,
        clear: n < 12,
      })),
    );
    expect(screen.getByText(/Takes to review/).closest("details")).toBeTruthy();
    expect(screen.getByText("Mark 12 takes without a finding as reviewed")).toBeTruthy();
  });

  it("begins with the list when there are too many chairs for the stage", () => {
    show(Array.from({ length: 41 }, (_, n) => chair(n + 1, "clear", {})));
    expect(screen.getAllByRole("row")).toHaveLength(42);
    fireEvent.click(screen.getByRole("button", { name: "Plan" }));
    expect(screen.queryByRole("table")).toBeNull();
  });

  it("offers the schools of the chosen instrument in the student's form", () => {
    show([chair(1, "clear", {})]);
    fireEvent.click(screen.getByRole("button", { name: "Add a student" }));
    expect(screen.queryByLabelText("Embouchure style")).toBeNull();
    fireEvent.change(screen.getByLabelText("Instrument"), { target: { value: "horn" } });
    const school = screen.getByLabelText("Embouchure style");
    expect([...school.querySelectorAll("option")].map((o) => o.textContent)).toEqual([
      "Two thirds",
      "Seven eighths",
    ]);
    expect(screen.getByText("More upper lip.")).toBeTruthy();
    fireEvent.change(school, { target: { value: "seven-eighths" } });
    expect(screen.getByText("Nearly all.")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Instrument"), { target: { value: "trumpet" } });
    expect(screen.getByText("Half.")).toBeTruthy();
  });
});
