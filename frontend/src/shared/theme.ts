/** Paper by day, "pit" where it is dark; the choice is this browser's. */
export type Theme = "paper" | "pit";

const KEY = "sulvet-theme";

export function storedTheme(): Theme {
  return localStorage.getItem(KEY) === "pit" ? "pit" : "paper";
}

export function applyTheme(theme: Theme): void {
  localStorage.setItem(KEY, theme);
  document.documentElement.dataset.bsTheme = theme === "pit" ? "dark" : "light";
}
