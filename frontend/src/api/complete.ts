import type { ModelView, Schemas } from "./client";

type Change = Schemas["ListChange"];

/** A view that tells only what differs from a known one, made whole; a whole one is given back as it is. */
export function complete(answer: ModelView, known: ModelView | undefined): ModelView {
  if (!answer.changes || !known) return answer;
  const { components, connections, rows } = answer.changes;
  const icons = { ...known.sheet.icons, ...answer.sheet.icons };
  const fresh = answer.sheet.components.map((component) => ({
    ...component,
    icon: icons[component.symbol]!,
  }));
  const stale = new Set(Object.keys(answer.sheet.icons));
  // A part that stays as it was may have got another symbol.
  const before = known.sheet.components.map((c) =>
    stale.has(c.symbol) ? { ...c, icon: icons[c.symbol]! } : c,
  );
  return {
    ...answer,
    changes: null,
    sheet: {
      ...answer.sheet,
      icons,
      components: merged(before, fresh, components, (c) => c.name),
      connections: merged(
        known.sheet.connections,
        answer.sheet.connections,
        connections,
        (w) => `${w.from} ${w.to}`,
      ),
    },
    rows: merged(known.analysed ? known.rows : [], answer.rows, rows, (row) => row.name),
  };
}

/** A known list with some items replaced, some gone and some new ones. */
export function merged<T>(known: T[], fresh: T[], change: Change, key: (item: T) => string): T[] {
  const items = new Map(known.map((item) => [key(item), item]));
  for (const name of change.gone) items.delete(name);
  for (const item of fresh) items.set(key(item), item);
  return change.order ? change.order.map((name) => items.get(name)!) : [...items.values()];
}
