import type { ModelView, Schemas } from "./client";

type Change = Schemas["ListChange"];

/** A view that told only what differs from a known one, made whole; a whole one is given back as it is. */
export function complete(told: ModelView, known: ModelView | undefined): ModelView {
  if (!told.changes || !known) return told;
  const { components, connections, rows } = told.changes;
  const icons = { ...known.sheet.icons, ...told.sheet.icons };
  const fresh = told.sheet.components.map((component) => ({
    ...component,
    icon: icons[component.symbol]!,
  }));
  const stale = new Set(Object.keys(told.sheet.icons));
  // A part that stays as it was may have got another symbol.
  const before = known.sheet.components.map((c) =>
    stale.has(c.symbol) ? { ...c, icon: icons[c.symbol]! } : c,
  );
  return {
    ...told,
    changes: null,
    sheet: {
      ...told.sheet,
      icons,
      components: merged(before, fresh, components, (c) => c.name),
      connections: merged(
        known.sheet.connections,
        told.sheet.connections,
        connections,
        (w) => `${w.from} ${w.to}`,
      ),
    },
    rows: merged(known.analysed ? known.rows : [], told.rows, rows, (row) => row.name),
  };
}

/** A known list with some items replaced, some gone and some new ones. */
export function merged<T>(known: T[], fresh: T[], change: Change, key: (item: T) => string): T[] {
  const items = new Map(known.map((item) => [key(item), item]));
  for (const name of change.gone) items.delete(name);
  for (const item of fresh) items.set(key(item), item);
  return change.order ? change.order.map((name) => items.get(name)!) : [...items.values()];
}
