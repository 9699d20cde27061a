import type { RunVariable } from "../api/client";

/** The variables that have all words in name, description or unit; names that begin so come first. */
export function search(variables: RunVariable[], typed: string): RunVariable[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const fitting = variables.filter((v) => {
    const text = `${v.name} ${v.description} ${v.shown_unit} ${v.unit}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
  const rank = (v: RunVariable) =>
    (words.length && v.name.toLowerCase().startsWith(words[0]!) ? 0 : 1) * 1000 +
    v.name.split(".").length;
  return fitting.sort((a, b) => rank(a) - rank(b));
}
