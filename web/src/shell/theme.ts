import { readStored, store } from "../api/storage";

export type Theme = "system" | "light" | "dark";

/** The theme chosen in this browser; `system` where none is. */
export function themeChosen(): Theme {
  const stored = readStored("ubrex.theme");
  return stored === "light" || stored === "dark" ? stored : "system";
}

/** Keep a choice and show it at once. `first.js` does the same before the first paint. */
export function chooseTheme(theme: Theme) {
  store("ubrex.theme", theme === "system" ? null : theme);
  if (theme === "system") delete document.documentElement.dataset.theme;
  else document.documentElement.dataset.theme = theme;
}
