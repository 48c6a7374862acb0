import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { DeleteDialog } from "./DeleteDialog";

afterEach(cleanup);

it("asks once more before it deletes, and can be left", () => {
  const remove = vi.fn();
  render(
    <DeleteDialog what="this take" remove={remove}>
      The clip goes for good.
    </DeleteDialog>,
  );
  fireEvent.click(screen.getByText("Delete this take …"));
  expect(screen.getByRole("alertdialog").textContent).toContain("goes for good");
  fireEvent.click(screen.getByText("Cancel"));
  expect(screen.queryByRole("alertdialog")).toBeNull();
  fireEvent.click(screen.getByText("Delete this take …"));
  fireEvent.click(screen.getByText("Delete permanently"));
  expect(remove).toHaveBeenCalledOnce();
});

it("wants the name where much hangs on it", () => {
  const remove = vi.fn();
  render(
    <DeleteDialog what="this student" name="Ada Lund" remove={remove}>
      The student goes.
    </DeleteDialog>,
  );
  fireEvent.click(screen.getByText("Delete this student …"));
  const really = screen.getByText<HTMLButtonElement>("Delete permanently");
  expect(really.disabled).toBe(true);
  fireEvent.change(screen.getByRole("textbox"), { target: { value: "Ada Lund" } });
  expect(really.disabled).toBe(false);
  fireEvent.click(really);
  expect(remove).toHaveBeenCalledOnce();
});
