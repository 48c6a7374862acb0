/** The masthead every screen has, and the sheet of keys. */
import { useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Alert, Button } from "react-bootstrap";
import { Link, useLocation } from "react-router";
import { api } from "../api/client";
import { ShortcutSheet } from "./ShortcutSheet";
import { setProjector, useProjector } from "./projector";
import { applyTheme, storedTheme } from "./theme";
import { useKeys } from "./useKeys";

const PAGES = [
  ["/", "Band"],
  ["/sectionals", "Sectionals"],
  ["/reeds", "Reeds"],
  ["/standards", "Standards"],
  ["/hand", "Marking accuracy"],
  ["/records", "Backup"],
] as const;

/** What the page one comes from could not finish; gone with the next page. */
function Notice() {
  const state: unknown = useLocation().state;
  const notice = typeof state === "object" && state && "notice" in state && state.notice;
  return typeof notice === "string" ? (
    <Alert variant="warning" className="notice">
      {notice}
    </Alert>
  ) : null;
}

export function Shell({ username, children }: { username: string; children: ReactNode }) {
  const client = useQueryClient();
  const [keysShown, showKeys] = useState(false);
  const [theme, setTheme] = useState(storedTheme);
  useKeys({ "?": () => showKeys(true) });
  const projected = useProjector();
  const other = theme === "paper" ? "pit" : "paper";
  return (
    <>
      <header className="masthead">
        <Link to="/" className="title">
          Sulvet
        </Link>
        <nav aria-label="Main">
          {PAGES.map(([address, name]) => (
            <Link key={address} to={address} className="text-body">
              {name}
            </Link>
          ))}
        </nav>
        <span className="spacer" />
        <Button
          variant="link"
          aria-pressed={projected}
          title="First names only and faces hidden, for showing to a class"
          onClick={() => setProjector(!projected)}
        >
          {projected ? "In class ✓" : "In class"}
        </Button>
        <Button
          variant="link"
          onClick={() => {
            applyTheme(other);
            setTheme(other);
          }}
        >
          {other === "pit" ? "Dark mode" : "Light mode"}
        </Button>
        <Button variant="link" className="keys" onClick={() => showKeys(true)}>
          Shortcuts <kbd>?</kbd>
        </Button>
        <Button
          variant="link"
          onClick={async () => {
            await api.DELETE("/api/session/");
            client.clear();
            window.location.assign("/");
          }}
        >
          Log out<span className="visually-hidden"> {username}</span>
        </Button>
      </header>
      <Notice />
      {children}
      <ShortcutSheet shown={keysShown} close={() => showKeys(false)} />
    </>
  );
}
