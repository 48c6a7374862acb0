/** The masthead every screen has, and the sheet of shortcuts. */
import { useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Alert, Button, Dropdown } from "react-bootstrap";
import { Link, useLocation, useNavigate } from "react-router";
import { api } from "../api/client";
import { useStandingIn, type Session } from "../api/people";
import { LoginSheet } from "../login/LoginSheet";
import { MeasureSheet } from "./MeasureSheet";
import { ShortcutSheet } from "./ShortcutSheet";
import { setProjector, useProjector } from "./projector";
import { Toasts } from "./toasts";
import { applyTheme, storedTheme } from "./theme";
import { useKeys } from "./useKeys";

const PAGES = [
  ["/", "Band"],
  ["/lessons", "Lessons"],
  ["/drills", "Drills"],
  ["/sectionals", "Sectionals"],
  ["/reeds", "Reeds"],
  ["/standards", "Standards"],
  ["/eye", "Your eye"],
  ["/help", "Help"],
] as const;
/** What is not needed every day. */
const ACCOUNT_PAGES = [
  ["/settings", "Settings"],
  ["/hand", "Marking accuracy"],
  ["/records", "Export and backup"],
  ["/school-days", "School days"],
] as const;

/** Students, takes and clips belong to the band. */
function isOn(pathname: string, address: string): boolean {
  if (address === "/drills" && pathname.startsWith("/routines")) return true;
  if (address !== "/") return pathname.startsWith(address);
  return pathname === "/" || /^\/(students|takes|clips)/.test(pathname);
}

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

interface ShellProps {
  session: Session;
  username: string;
  children: ReactNode;
}

export function Shell({ session, username, children }: ShellProps) {
  const client = useQueryClient();
  const standing = useStandingIn();
  const [keysShown, showKeys] = useState(false);
  const [theme, setTheme] = useState(storedTheme);
  useKeys({ "?": () => showKeys(true) });
  const { pathname } = useLocation();
  const go = useNavigate();
  const [menu, showMenu] = useState(false);
  const projected = useProjector();
  const other = theme === "paper" ? "pit" : "paper";
  const links = (
    <>
      {PAGES.map(([address, name]) => (
        <Link
          key={address}
          to={address}
          className="text-body"
          aria-current={isOn(pathname, address) ? "page" : undefined}
        >
          {name}
        </Link>
      ))}
    </>
  );
  return (
    <>
      <a className="skip-link" href="#content">
        Skip to content
      </a>
      <header className={`masthead ${menu ? "open" : ""}`}>
        <Link to="/" className="title">
          Sulvet
        </Link>
        <Button
          variant="outline-secondary"
          size="sm"
          className="menu"
          aria-expanded={menu}
          onClick={() => showMenu(!menu)}
        >
          Menu
        </Button>
        <nav aria-label="Main">{links}</nav>
        <span className="spacer" />
        <Button
          variant="link"
          aria-pressed={projected}
          title="First names only and faces hidden, for showing to a class"
          onClick={() => setProjector(!projected)}
        >
          {projected ? "In class ✓" : "In class"}
        </Button>
        <Button variant="link" className="keys" onClick={() => showKeys(true)}>
          Shortcuts <kbd>?</kbd>
        </Button>
        <Dropdown align="end">
          <Dropdown.Toggle variant="link" className="account">
            {session.acting_for ? `${username} for ${session.acting_for}` : username}
          </Dropdown.Toggle>
          <Dropdown.Menu>
            {ACCOUNT_PAGES.map(([address, name]) => (
              <Dropdown.Item key={address} as={Link} to={address}>
                {name}
              </Dropdown.Item>
            ))}
            {session.hosts
              .filter((one) => one.name !== session.acting_for)
              .map((one) => (
                <Dropdown.Item
                  key={one.id}
                  as="button"
                  onClick={() => standing.mutate(one.id, { onSuccess: () => void go("/") })}
                >
                  Stand in for {one.name}
                </Dropdown.Item>
              ))}
            {session.acting_for && (
              <Dropdown.Item
                as="button"
                onClick={() => standing.mutate(null, { onSuccess: () => void go("/") })}
              >
                To your own bands
              </Dropdown.Item>
            )}
            <Dropdown.Item
              as="button"
              onClick={() => {
                applyTheme(other);
                setTheme(other);
              }}
            >
              {other === "pit" ? "Dark mode" : "Light mode"}
            </Dropdown.Item>
            <Dropdown.Divider />
            <Dropdown.Item
              as="button"
              onClick={async () => {
                await api.DELETE("/api/session/");
                client.clear();
                window.location.assign("/");
              }}
            >
              Log out ({username})
            </Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
      </header>
      <Notice />
      <div id="content" tabIndex={-1}>
        {children}
      </div>
      <MeasureSheet />
      <Toasts />
      <LoginSheet username={username} />
      <ShortcutSheet shown={keysShown} close={() => showKeys(false)} />
    </>
  );
}
