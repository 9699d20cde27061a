import type { ModelView, Schemas } from "../api/client";

/** What is chosen of a part that is made of a unit: `seen` and `names` hold what differs from the usual. */
export interface PartDraft {
  name: string;
  kind: "me" | "cs";
  step: string;
  seen: Record<string, boolean>;
  names: Record<string, string>;
  /** The headings under which inputs and outputs stand. */
  groups: Record<string, string>;
}

type Variable = Schemas["ForeignVariable"];

/** Inputs and outputs under headings: as the unit has terminals, or as their names begin alike. */
export function groupedBy(
  variables: Variable[],
  what: "terminal" | "stem",
): Record<string, string> {
  return Object.fromEntries(
    variables.flatMap((v) => (isPort(v) && v[what] ? [[v.name, v[what]]] : [])),
  );
}

export function isPort(v: Variable): boolean {
  return v.role === "input" || v.role === "output";
}

/** How a variable appears in a part. */
export const ROLES: Record<string, string> = {
  parameter: "parameter",
  input: "input",
  output: "output",
  state: "state",
  "": "internal",
};

/** A name that no class of the model has. */
export function freeClassName(view: ModelView, wanted: string): string {
  const used = new Set(
    view.sheet.components.flatMap((c) => [c.name, c.class.split(".").at(-1) ?? ""]),
  );
  let name = wanted;
  for (let k = 2; used.has(name); k++) name = `${wanted}${k}`;
  return name;
}

/** What is sent for the choices. */
export function orderOfPart(
  draft: PartDraft,
  page: Schemas["ForeignUnitPage"],
): Schemas["PartOrder"] {
  const usual = new Map(page.variables.map((v) => [v.name, v]));
  const differs = Object.entries(draft.seen).filter(
    ([name, seen]) => seen !== (usual.get(name)?.role !== ""),
  );
  return {
    name: draft.name.trim(),
    kind: draft.kind,
    step: draft.kind === "cs" ? Number(draft.step) : null,
    names: Object.fromEntries(
      Object.entries(draft.names)
        .map(([name, given]) => [name, given.trim()] as const)
        .filter(([name, given]) => given !== usual.get(name)?.name_in_class),
    ),
    hidden: differs.filter(([, seen]) => !seen).map(([name]) => name),
    shown: differs.filter(([, seen]) => seen).map(([name]) => name),
    groups: Object.fromEntries(
      Object.entries(draft.groups)
        .map(([name, group]) => [name, group.trim()] as const)
        .filter(([, group]) => group),
    ),
  };
}
