import { Moon, Sun } from "lucide-react";

import { useTheme } from "./theme";

export function ThemeButton() {
  const [theme, toggle] = useTheme();
  const dark = theme === "night";
  const words = dark ? "Switch to the light theme" : "Switch to the dark theme";
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm px-2"
      onClick={toggle}
      aria-label={words}
      title={words}
      data-testid="theme"
    >
      {dark ? <Sun size={15} /> : <Moon size={15} />}
    </button>
  );
}
