import type { ModelView } from "../api/client";
import { likelyVariable, type Preview } from "./types";

export type Role = "" | "output" | "input" | "held";
export interface Column {
  role: Role;
  variable: string;
}
export type Columns = Record<string, Column>;

/** What columns may be, by their names: those that are like a variable are compared with it. */
export function guessed(seen: Preview, watched: string[]): Columns {
  return Object.fromEntries(
    seen.columns.map((c) => {
      const variable = likelyVariable(c.name, watched);
      return [c.name, { role: variable ? "output" : "", variable }] as const;
    }),
  );
}

/** A column after a variable was dropped on it: one that was not used is compared with it. */
export function dropped(now: Column, variable: string): Column {
  return { role: now.role || "output", variable };
}

/** Names that were given, without those that were left as they are. */
export function renamed(names: Record<string, string>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(names).flatMap(([from, to]) => (to.trim() ? [[from, to.trim()]] : [])),
  );
}

/** The variables of a model that can be compared with. */
export function watchedOf(view: ModelView): string[] {
  return view.rows.filter((r) => r.group === "watch").map((r) => r.name);
}

/** What an order says of the columns. */
export function mapped(columns: Columns) {
  const of = (roles: Role[]) =>
    Object.fromEntries(
      Object.entries(columns)
        .filter(([, c]) => roles.includes(c.role) && c.variable)
        .map(([name, c]) => [name, c.variable]),
    );
  return {
    outputs: of(["output"]),
    inputs: of(["input", "held"]),
    held: Object.values(of(["held"])),
  };
}
