import type { Sheet, SheetComponent } from "../api/client";
import { partOf } from "./selection";

interface Way {
  from: string;
  to: string;
}

/**
 * The blocks that lead a signal back in a loop: chains of blocks with one input and one output before the place where
 * the loop closes. They are drawn against the direction of reading.
 */
export function feedbackBlocks(sheet: Pick<Sheet, "components" | "connections">): Set<string> {
  const ways: Way[] = sheet.connections
    .filter((wire) => wire.direction)
    .map((wire) => {
      const ends = [partOf(wire.from), partOf(wire.to)] as const;
      return wire.direction === "backward"
        ? { from: ends[1], to: ends[0] }
        : { from: ends[0], to: ends[1] };
    });
  const byName = new Map(sheet.components.map((c) => [c.name, c]));
  const after = (name: string) => ways.filter((way) => way.from === name).map((way) => way.to);
  const before = (name: string) => ways.filter((way) => way.to === name).map((way) => way.from);
  const isLink = (name: string) => {
    const part = byName.get(name);
    return part !== undefined && isThrough(part) && before(name).length === 1;
  };
  const back = new Set<string>();
  for (const { from, to } of closing(sheet.components, after)) {
    const chain: string[] = [];
    for (
      let at = from;
      at !== to && isLink(at) && after(at).length === 1 && !chain.includes(at);
      at = before(at)[0]!
    )
      chain.push(at);
    // A loop of links alone is drawn half there and half back.
    const whole = chain.length > 0 && before(chain.at(-1)!)[0] === to;
    chain
      .slice(0, whole ? Math.floor((chain.length + 1) / 2) : chain.length)
      .forEach((name) => back.add(name));
  }
  return back;
}

/** A block with one input and one output. */
function isThrough(part: SheetComponent): boolean {
  const count = (direction: string) =>
    part.icon.ports.filter((port) => port.direction === direction).length;
  return part.icon.ports.length === 2 && count("in") === 1 && count("out") === 1;
}

/** The ways that close a loop, found from the sources on. */
function closing(components: SheetComponent[], after: (name: string) => string[]): Way[] {
  const state = new Map<string, "open" | "done">();
  const found: Way[] = [];
  const visit = (name: string) => {
    state.set(name, "open");
    for (const next of after(name)) {
      if (state.get(next) === "open") found.push({ from: name, to: next });
      else if (!state.has(next)) visit(next);
    }
    state.set(name, "done");
  };
  const fed = new Set(components.flatMap((c) => after(c.name)));
  const sources = components.filter((c) => !fed.has(c.name));
  for (const { name } of [...sources, ...components]) if (!state.has(name)) visit(name);
  return found;
}
