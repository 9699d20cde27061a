import { useCallback, useSyncExternalStore } from "react";

const KEY = "movrel.theme";
const listeners = new Set<() => void>();

function preferred(): string {
  const kept = localStorage.getItem(KEY);
  if (kept === "film" || kept === "night") return kept;
  return window.matchMedia("(prefers-color-scheme: dark)").matches ? "night" : "film";
}

export function applyTheme(): void {
  document.documentElement.dataset.theme = preferred();
}

/** The theme and a way to change it; canvas drawings redraw when it changes. */
export function useTheme(): [string, () => void] {
  const theme = useSyncExternalStore((changed) => {
    listeners.add(changed);
    return () => listeners.delete(changed);
  }, preferred);
  const toggle = useCallback(() => {
    localStorage.setItem(KEY, preferred() === "film" ? "night" : "film");
    applyTheme();
    listeners.forEach((tell) => tell());
  }, []);
  return [theme, toggle];
}
