import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { useKeys, type Keys } from "./useKeys";

afterEach(cleanup);

function Page({ keys }: { keys: Keys }) {
  useKeys(keys);
  return (
    <>
      <input aria-label="name" />
      <button type="button">press me</button>
    </>
  );
}

describe("useKeys", () => {
  it("tells plain, shifted and alternative keys apart", () => {
    const keys = { q: vi.fn(), "Shift+q": vi.fn(), "Alt+ArrowUp": vi.fn(), "?": vi.fn() };
    render(<Page keys={keys} />);
    fireEvent.keyDown(document.body, { key: "q" });
    fireEvent.keyDown(document.body, { key: "Q", shiftKey: true });
    fireEvent.keyDown(document.body, { key: "ArrowUp", altKey: true });
    fireEvent.keyDown(document.body, { key: "?", shiftKey: true });
    for (const action of Object.values(keys)) expect(action).toHaveBeenCalledTimes(1);
  });

  it("leaves typing, the browser's own keys and dialogs alone", () => {
    const action = vi.fn();
    render(<Page keys={{ c: action }} />);
    fireEvent.keyDown(screen.getByLabelText("name"), { key: "c" });
    fireEvent.keyDown(document.body, { key: "c", ctrlKey: true });
    fireEvent.keyDown(document.body, { key: "c", metaKey: true });
    const dialog = document.createElement("div");
    dialog.className = "modal show";
    document.body.append(dialog);
    fireEvent.keyDown(document.body, { key: "c" });
    dialog.remove();
    expect(action).not.toHaveBeenCalled();
    fireEvent.keyDown(document.body, { key: "c" });
    expect(action).toHaveBeenCalledTimes(1);
  });

  it("leaves Enter and the space bar to a focused button", () => {
    const action = vi.fn();
    render(<Page keys={{ Enter: action, " ": action, w: action }} />);
    const button = screen.getByRole("button");
    fireEvent.keyDown(button, { key: "Enter" });
    fireEvent.keyDown(button, { key: " " });
    expect(action).not.toHaveBeenCalled();
    fireEvent.keyDown(button, { key: "w" });
    expect(action).toHaveBeenCalledTimes(1);
  });

  it("uses the newest actions, and none once it is gone", () => {
    const [old, fresh] = [vi.fn(), vi.fn()];
    const { rerender, unmount } = render(<Page keys={{ n: old }} />);
    rerender(<Page keys={{ n: fresh }} />);
    fireEvent.keyDown(document.body, { key: "n" });
    unmount();
    fireEvent.keyDown(document.body, { key: "n" });
    expect(old).not.toHaveBeenCalled();
    expect(fresh).toHaveBeenCalledTimes(1);
  });
});
