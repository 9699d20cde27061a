/** Numbers and units as they are shown: at most five significant digits, trade signs for units. */

import { suited, suitedTimeUnit, TIME_UNITS } from "../state/suited-unit";

export function formatNumber(value: number | null | undefined, digits = 5): string {
  if (value === null || value === undefined || Number.isNaN(value)) return "";
  if (value === 0) return "0";
  const size = Math.abs(value);
  if (size >= 1e6 || size < 1e-4) {
    return value
      .toExponential(digits - 1)
      .replace(/\.?0+e/, "e")
      .replace("e+", "e");
  }
  return String(Number(value.toPrecision(digits)));
}

/** A number with few digits, for a field in which it is edited. */
export function shortNumber(value: number, digits = 5): string {
  return String(Number(value.toPrecision(digits)));
}

/** A number that a person gave, with the digits it was given. */
export function givenNumber(value: number): string {
  const digits = Number(value.toPrecision(12));
  const size = Math.abs(digits);
  return digits !== 0 && (size >= 1e7 || size < 1e-4)
    ? digits.toExponential().replace("e+", "e")
    : String(digits);
}

/** All digits, for copying and editing. */
export function exactNumber(value: number): string {
  return String(Number(value.toPrecision(15)));
}

const SUPERSCRIPT: Record<string, string> = { "2": "²", "3": "³" };

/** Modelica unit syntax as an engineer writes it: kg.m2 becomes kg·m², 1 becomes nothing. */
export function formatUnit(unit: string): string {
  if (unit === "1" || unit === "") return "";
  return unit
    .replace(
      /([A-Za-z])([23])(?![0-9])/g,
      (_, letter: string, digit: string) => letter + SUPERSCRIPT[digit],
    )
    .replaceAll(".", "·")
    .replace(/\bdegC\b/, "°C")
    .replace(/\bdegF\b/, "°F")
    .replace(/\bu(?=[A-Za-z])/g, "µ")
    .replace("Ohm", "Ω");
}

/** A number with its unit, with a prefix where that makes it shorter. */
export function withUnit(value: number | null | undefined, unit: string): string {
  if (value === null || value === undefined) return "";
  const shown = suited(value, unit, formatNumber);
  const [number, words] = [formatNumber(shown.value), formatUnit(shown.unit)];
  return number && words ? `${number}\u2009${words}` : number;
}

/** A name with its unit, where it has one. */
export function withIn(name: string, unit: string | undefined): string {
  const shown = formatUnit(unit ?? "");
  return shown ? `${name} in ${shown}` : name;
}

/** A number of things, singular or plural. */
export function counted(count: number, thing: string, things = `${thing}s`): string {
  return `${count === 1 ? "1" : formatNumber(count)} ${count === 1 ? thing : things}`;
}

/** A time in seconds as a number in a unit of time, or else in the one that suits it. */
export function timeIn(seconds: number, unit = "s"): { value: number; unit: string } {
  const size = Math.abs(seconds);
  const chosen =
    unit !== "s" && size >= TIME_UNITS[unit]! ? unit : size >= 1e4 ? suitedTimeUnit(size) : "s";
  return { value: Number((seconds / TIME_UNITS[chosen]!).toPrecision(15)), unit: chosen };
}

/** The same in words. */
export function formatTime(seconds: number, unit = "s"): string {
  const { value, unit: chosen } = timeIn(seconds, unit);
  return withUnit(value, chosen);
}

/** A time in the unit in which it was typed; without one in the unit that suits. */
export function formatTypedTime(seconds: number, unit: string): string {
  return unit
    ? withUnit(Number((seconds / TIME_UNITS[unit]!).toPrecision(15)), unit)
    : formatTime(seconds);
}

export function ago(iso: string, now = Date.now()): string {
  const seconds = Math.max(0, (now - Date.parse(iso)) / 1000);
  if (seconds < 60) return "just now";
  const steps: [number, string][] = [
    [60, "min"],
    [3600, "h"],
    [86400, "d"],
  ];
  const [size, word] = [...steps].reverse().find(([limit]) => seconds >= limit)!;
  return `${Math.floor(seconds / size)}\u2009${word} ago`;
}
