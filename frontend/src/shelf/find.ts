import type { Schemas } from "../api/client";

/** The kind of data that is dragged from the shelf onto the sheet. */
export const DRAGGED = "application/x-movrel-class";

export type Entry = Schemas["ShelfEntry"];

/** How well an entry answers what was typed; 0 for not at all. Every word must be found somewhere. */
export function fitness(entry: Entry, typed: string): number {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const name = entry.name.toLowerCase();
  const synonyms = entry.synonyms.map((synonym) => synonym.toLowerCase());
  const other = ` ${[entry.description, entry.group, ...synonyms].join(" ").toLowerCase()}`;
  let total = 1;
  for (const word of words) {
    if (name === word) total += 100;
    else if (synonyms.includes(word)) total += 60;
    else if (name.startsWith(word)) total += 50;
    else if (beginsAWord(entry.name, word)) total += 20;
    // A word, or the beginning of one, before what only contains it: hole before whole.
    else if (new RegExp(`[^a-z]${escaped(word)}`).test(other)) total += 15;
    else if (name.includes(word)) total += 8;
    else if (other.includes(word)) total += 6;
    else if (inOrder(name, word)) total += 3;
    else return 0;
  }
  return total;
}

/** Whether one of the words that a name is made of begins so: Integrator in LimitedIntegrator. */
function beginsAWord(name: string, word: string): boolean {
  const words = name.split(/(?=[A-Z0-9])|[^A-Za-z0-9]/).map((part) => part.toLowerCase());
  return words.some((_, i) => words.slice(i).join("").startsWith(word));
}

function escaped(word: string): string {
  return word.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&");
}

/** Whether the letters of a word occur in a name in this order. */
function inOrder(name: string, word: string): boolean {
  let at = 0;
  for (const letter of name) if (letter === word[at]) at += 1;
  return at === word.length;
}

/** The entries that answer what was typed, the best first; all in their own order when nothing was typed. */
export function find(entries: Entry[], typed: string): Entry[] {
  if (!typed.trim()) return entries;
  return entries
    .map((entry, i) => ({ entry, i, fit: fitness(entry, typed) }))
    .filter((candidate) => candidate.fit > 0)
    .sort((a, b) => b.fit - a.fit || a.i - b.i)
    .map((candidate) => candidate.entry);
}

/** Heading of the entries that were used last. */
export const RECENT = "Used last";
const KEPT = "movrel.recent";
const MOST = 5;

/** The classes that were used last, the newest first. */
export function readRecent(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEPT) ?? "[]");
    return Array.isArray(kept)
      ? kept.filter((name): name is string => typeof name === "string")
      : [];
  } catch {
    return [];
  }
}

/** Remember that a class was used. */
export function noteRecent(className: string): string[] {
  const recent = [className, ...readRecent().filter((name) => name !== className)].slice(0, MOST);
  localStorage.setItem(KEPT, JSON.stringify(recent));
  return recent;
}

/** The entries of the classes used last, under a heading of their own. */
export function recentEntries(entries: Entry[], recent: string[]): Entry[] {
  return recent
    .flatMap((name) => entries.filter((e) => e.class === name))
    .map((entry) => ({ ...entry, group: RECENT }));
}
