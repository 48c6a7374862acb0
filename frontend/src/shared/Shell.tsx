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
import { Rich } from "./Rich";
import { t } from "./words";

const PAGES = [
  ["/", t("Band")],
  ["/lessons", t("Lessons")],
  ["/drills", t("Drills")],
  ["/sectionals", t("Sectionals")],
  ["/reeds", t("Reeds")],
  ["/standards", t("Standards")],
  ["/eye", t("Your eye")],
  ["/help", t("Help")],
] as const;
/** What is not needed every day. */
const ACCOUNT_PAGES = [
  ["/settings", t("Settings")],
  ["/hand", t("Marking accuracy")],
  ["/records", t("Export and backup")],
  ["/school-days", t("School days")],
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
        {t("Skip to content")}
      </a>
      <header className={`masthead ${menu ? "open" : ""}`}>
        <Link to="/" className="title">
          {t("Sulvet")}
        </Link>
        <Button
          variant="outline-secondary"
          size="sm"
          className="menu"
          aria-expanded={menu}
          onClick={() => showMenu(!menu)}
        >
          {t("Menu")}
        </Button>
        <nav aria-label={t("Main")}>{links}</nav>
        <span className="spacer" />
        <Button
          variant="link"
          aria-pressed={projected}
          title={t("First names only and faces hidden, for showing to a class")}
          onClick={() => setProjector(!projected)}
        >
          {projected ? t("In class ✓") : t("In class")}
        </Button>
        <Button variant="link" className="keys" onClick={() => showKeys(true)}>
          <Rich text="Shortcuts <kbd>?</kbd>" parts={{ kbd: <kbd /> }} />
        </Button>
        <Dropdown align="end">
          <Dropdown.Toggle variant="link" className="account">
            {session.acting_for
              ? t("{{username}} for {{acting_for}}", {
                  username,
                  acting_for: session.acting_for,
                })
              : username}
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
                  {t("Stand in for {{name}}", { name: one.name })}
                </Dropdown.Item>
              ))}
            {session.acting_for && (
              <Dropdown.Item
                as="button"
                onClick={() => standing.mutate(null, { onSuccess: () => void go("/") })}
              >
                {t("To your own bands")}
              </Dropdown.Item>
            )}
            <Dropdown.Item
              as="button"
              onClick={() => {
                applyTheme(other);
                setTheme(other);
              }}
            >
              {other === "pit" ? t("Dark mode") : t("Light mode")}
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
              {t("Log out ({{username}})", { username })}
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
