import type { Row } from "../api/client";
import { exactNumber, formatNumber, formatUnit, givenNumber, withUnit } from "./format";
import { suited, suitedUnit } from "../state/suited-unit";

/** What a row shows when nobody is editing it. */
export function shownText(row: Row): string {
  if (row.expression !== null) return row.expression;
  if (row.shown !== null) return givenNumber(converted(row) ?? row.shown);
  return row.value === null ? "" : String(row.value);
}

/** A value that is shown in another unit than the text has it in, without the digits that only converting made. */
function converted(row: Row): number | null {
  if (row.shown === null || row.shown_unit === row.unit) return null;
  return givenNumber(row.shown).length > 9 ? Number(row.shown.toPrecision(7)) : row.shown;
}

/** A row at rest: its text, and the unit in which a number of it counts. */
export interface AtRest {
  text: string;
  unit: string;
  /** The text that is edited: with its unit where that is not the one in which a bare number counts. */
  edited: string;
}

/** What a row shows, in a scenario that changes it with the text of the change. */
export function atRest(row: Row, changed?: string): AtRest {
  const text = changed === undefined ? shownText(row) : changedText(row, changed);
  const edited = changed === undefined ? editText(row) : changedEditText(row, changed);
  const plain = { text, unit: row.shown_unit, edited };
  // Where the model or a person says in which unit it is shown, that stays.
  if (row.shown_unit !== row.unit || text.trim() === "" || Number.isNaN(Number(text))) return plain;
  const { value, unit } = suited(Number(text), row.unit, givenNumber);
  if (unit === row.unit) return plain;
  const { factor } = suitedUnit(Math.abs(Number(text)), row.unit);
  return {
    text: givenNumber(value),
    unit,
    edited: `${exactNumber(Number(edited) * factor)} ${formatUnit(unit)}`,
  };
}

/** The value of a row that is worked out; its unit stands beside it, unless another suits. */
export function computedWords(row: Row): string {
  const value = row.shown ?? 0;
  const other = row.shown_unit === row.unit && suited(value, row.unit, formatNumber).unit;
  return other && other !== row.unit ? withUnit(value, row.unit) : formatNumber(value);
}

/** What a row shows, with its unit. */
export function rowWords(row: Row, changed?: string): string {
  const { text, unit } = atRest(row, changed);
  return `${text} ${formatUnit(unit)}`.trim();
}

/** What a row shows in a scenario that changes it: the text is in the declared unit. */
export function changedText(row: Row, text: string): string {
  const number = Number(text);
  if (text.trim() === "" || Number.isNaN(number)) return text;
  if (row.base && row.shown !== null) return givenNumber(row.shown);
  // The row's own value tells how the declared unit becomes the shown one.
  const factor =
    typeof row.value === "number" &&
    row.shown !== null &&
    row.value !== 0 &&
    !row.shown_unit.startsWith("deg")
      ? row.shown / row.value
      : 1;
  return row.shown_unit.startsWith("deg") ? `${text} ${row.unit}` : givenNumber(number * factor);
}

/** What a row offers for editing in a scenario that changes it: a number in the shown unit, as it is read. */
export function changedEditText(row: Row, text: string): string {
  const isNumber = text.trim() !== "" && !Number.isNaN(Number(text));
  return isNumber && row.base && row.shown !== null ? exactNumber(row.shown) : text;
}

/** The element of an enumeration, or true and false, behind the text of a change. */
export function choiceOf(text: string): string {
  return text.split(".").at(-1) ?? text;
}

/** What a row offers for editing: every digit. */
export function editText(row: Row): string {
  if (row.expression !== null) return row.expression;
  if (row.shown !== null) return exactNumber(row.shown);
  return row.value === null ? "" : String(row.value);
}

/** The limits and the default of a row in words. */
export function limitWords(row: Row): string {
  const number = (value: number) => withUnit(value, row.shown_unit);
  const both = row.minimum !== null && row.maximum !== null;
  const limits = both
    ? `from ${number(row.minimum!)} to ${number(row.maximum!)}`
    : row.minimum !== null
      ? `at least ${number(row.minimum)}`
      : row.maximum !== null
        ? `at most ${number(row.maximum)}`
        : "";
  const usual =
    row.default && row.modified ? `default ${withUnit(Number(row.default), row.unit)}` : "";
  return [limits, usual].filter(Boolean).join(", ");
}

/** Rows under the headings that the class gives them; those without one come first. */
export function sections(rows: Row[]): { title: string; rows: Row[] }[] {
  const groups = new Map<string, Row[]>();
  for (const row of rows) {
    if (!row.enabled) continue;
    const title = [row.tab, row.section].filter(Boolean).join(": ");
    groups.set(title, [...(groups.get(title) ?? []), row]);
  }
  return [...groups]
    .map(([title, inside]) => ({ title, rows: inside }))
    .sort((a, b) => Number(a.title !== "") - Number(b.title !== ""));
}
