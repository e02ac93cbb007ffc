/** How this browser is drawn: dark for the front of house, light for the day. The script in layouts/Shell.astro applies it. */
import { useSyncExternalStore } from "react";

export const THEMES = { dark: "dark", day: "daylight", computer: "as the computer" } as const;
export type Theme = keyof typeof THEMES;

/** The theme that was chosen, which may be to follow the computer. */
export function useTheme(): Theme {
  return useSyncExternalStore(watch, chosen, () => "dark");
}

export function chooseTheme(theme: Theme): void {
  localStorage.setItem("theme", theme);
  window.dispatchEvent(new Event("theme"));
}

function chosen(): Theme {
  const kept = localStorage.getItem("theme");
  return kept !== null && kept in THEMES ? (kept as Theme) : "dark";
}

function watch(changed: () => void): () => void {
  const events = ["theme", "storage"] as const;
  for (const event of events) window.addEventListener(event, changed);
  return () => {
    for (const event of events) window.removeEventListener(event, changed);
  };
}
