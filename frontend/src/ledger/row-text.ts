import type { Row } from "../api/client";
import { exactNumber, formatNumber, formatUnit } from "../format";

/** What a row shows when nobody is editing it. */
export function shownText(row: Row): string {
  if (row.expression !== null) return row.expression;
  if (row.shown !== null) return formatNumber(row.shown);
  return row.value === null ? "" : String(row.value);
}

/** What a row offers for editing: every digit. */
export function editText(row: Row): string {
  if (row.expression !== null) return row.expression;
  if (row.shown !== null) return exactNumber(row.shown);
  return row.value === null ? "" : String(row.value);
}

/** The limits of a row in words. */
export function limitWords(row: Row): string {
  const unit = formatUnit(row.shown_unit);
  const number = (value: number) => `${formatNumber(value)}${unit ? `\u2009${unit}` : ""}`;
  if (row.minimum !== null && row.maximum !== null) return `from ${number(row.minimum)} to ${number(row.maximum)}`;
  if (row.minimum !== null) return `at least ${number(row.minimum)}`;
  return row.maximum !== null ? `at most ${number(row.maximum)}` : "";
}

/** Rows under the headings that the class gives them; those without one come first. */
export function sections(rows: Row[]): { title: string; rows: Row[] }[] {
  const found = new Map<string, Row[]>();
  for (const row of rows) {
    if (!row.enabled) continue;
    const title = [row.tab, row.section].filter(Boolean).join(": ");
    found.set(title, [...(found.get(title) ?? []), row]);
  }
  return [...found].map(([title, inside]) => ({ title, rows: inside })).sort((a, b) => Number(a.title !== "") - Number(b.title !== ""));
}
