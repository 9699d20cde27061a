import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { Formula } from "../ui/formulae";
import { formatUnit } from "../ui/format";
import { Scrolled } from "../ui/scrolled";
import { usePlace } from "../state/place";
import { useSelection } from "../state/selection";

type Block = Schemas["EquationBlock"];

const MARKS: [keyof Block & ("state" | "discrete" | "constraint"), string, string][] = [
  ["state", "state", "gives the derivative of a state"],
  ["constraint", "constraint", "differentiated, because it ties states together"],
  ["discrete", "discrete", "changes at events only"],
];

/** What is really solved: every equation in order, with what it determines and where it comes from. */
export default function EquationsView({ view }: { view: ModelView }) {
  const path = { project: view.project, model: view.model };
  const selected = useSelection((s) => s.selected);
  const { select } = useSelection.getState();
  const { setView } = usePlace.getState();
  const [only, setOnly] = useState<string | null>(null);
  const [kind, setKind] = useState("all");
  const list = useQuery({
    queryKey: ["equations", view.project, view.model, view.revision],
    queryFn: () =>
      ask(client.GET("/api/projects/{project}/models/{model}/equations", { params: { path } })),
    retry: false,
    placeholderData: (before) => before,
  });
  const component = only ?? selected ?? "";
  const inside = (name: string) =>
    !component || name === component || name.startsWith(`${component}.`);
  if (list.error) {
    const refused = asRefusal(list.error);
    return (
      <p role="alert" className="p-4 text-error" data-testid="equations-fault">
        ✕ {refused.where ? `line ${refused.where.line}: ` : ""}
        {refused.sentence}
      </p>
    );
  }
  if (!list.data) return <p className="muted p-4">Sorting the equations…</p>;
  const { blocks, counts, states, trivial, cut } = list.data;
  const wanted = blocks.filter(
    (block) =>
      block.rows.some(
        (row) =>
          inside(row.component) ||
          inside(row.determines.replace(/^der\(|\)$/g, "").replace(/\.[^.]*$/, "")),
      ) &&
      (kind === "all" ||
        (kind === "loops"
          ? block.kind !== "explicit"
          : kind === "states"
            ? block.state
            : block.discrete)),
  );
  return (
    <div className="flex h-full flex-col bg-base-100" data-testid="equations-view">
      <div className="rule-b flex flex-wrap items-center gap-x-4 gap-y-1 px-3 py-1.5">
        <label className="flex items-center gap-1.5">
          <span className="muted">of</span>
          <select
            className="select select-sm w-44"
            value={component}
            onChange={(event) => (setOnly(event.target.value), select(event.target.value || null))}
            aria-label="Component whose equations are shown"
            data-testid="equations-component"
          >
            <option value="">all components</option>
            {view.sheet.components.map((c) => (
              <option key={c.name}>{c.name}</option>
            ))}
          </select>
        </label>
        <select
          className="select select-sm w-36"
          value={kind}
          onChange={(event) => setKind(event.target.value)}
          aria-label="Kind of equations shown"
        >
          <option value="all">all kinds</option>
          <option value="states">states</option>
          <option value="loops">loops</option>
          <option value="discrete">discrete</option>
        </select>
        <span className="muted" data-testid="equation-counts">
          {plural(counts.equations, "equation")}, {plural(counts.variables, "variable")},{" "}
          {plural(counts.states, "state")}; {counts.aliases} trivial removed;{" "}
          {plural((counts["linear loops"] ?? 0) + (counts["nonlinear loops"] ?? 0), "loop")},{" "}
          {counts["discrete variables"]} discrete
        </span>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-3 py-2">
        {states.some((s) => inside(s.component)) && (
          <p className="pb-2">
            <span className="muted">States: </span>
            {states
              .filter((s) => inside(s.component))
              .map((state) => (
                <span key={state.name} className="pr-4 whitespace-nowrap">
                  <Formula latex={state.latex} />{" "}
                  <span className="muted">{formatUnit(state.unit)}</span>
                </span>
              ))}
          </p>
        )}
        <ol className="equation-list">
          {wanted.map((block) => (
            <EquationBlock
              key={block.unknowns.join(" ")}
              block={block}
              onPlace={(row) =>
                row.file === view.file
                  ? setView("text", row.line)
                  : select(row.component.split(".")[0]!)
              }
            />
          ))}
        </ol>
        {wanted.length === 0 && (
          <p className="muted py-6 text-center">No equation of this kind belongs to it.</p>
        )}
        {cut && <p className="muted py-2">Only the first 3 000 equations are listed.</p>}
        {trivial.filter((t) => inside(t.component)).length > 0 && (
          <details className="pt-3">
            <summary className="muted cursor-pointer">
              Trivial equations, removed ({trivial.filter((t) => inside(t.component)).length})
            </summary>
            <ul className="grid grid-cols-2 gap-x-4 pt-1">
              {trivial
                .filter((t) => inside(t.component))
                .map((t) => (
                  <li key={t.name} className="py-0.5">
                    <Formula latex={t.latex} />
                  </li>
                ))}
            </ul>
          </details>
        )}
      </div>
    </div>
  );
}

function plural(count: number | undefined, word: string): string {
  return `${count ?? 0} ${word}${count === 1 ? "" : "s"}`;
}

function EquationBlock({
  block,
  onPlace,
}: {
  block: Block;
  onPlace: (row: Schemas["EquationRow"]) => void;
}) {
  const loop = block.kind !== "explicit";
  return (
    <li className={`py-1 ${loop ? "my-1 border-l-2 border-base-content pl-2" : ""}`}>
      {loop && (
        <p className="text-[12px]">
          ⟲ {block.kind} loop of {block.unknowns.length} for {block.unknowns.slice(0, 8).join(", ")}
          {block.unknowns.length > 8 && " …"}
          {block.tears.length > 0 && (
            <span className="muted">, torn at {block.tears.join(", ")}</span>
          )}
        </p>
      )}
      {block.rows.map((row, i) => (
        <div key={i} className="flex items-baseline gap-3 py-0.5">
          <Scrolled label={`Equation of ${row.determines}`} className="min-w-0 flex-1">
            <Formula latex={row.latex} />
          </Scrolled>
          <span className="muted shrink-0 text-[12px]" title={`It determines ${row.determines}`}>
            {row.determines} {formatUnit(row.unit) && `[${formatUnit(row.unit)}]`}
          </span>
          {MARKS.filter(([mark]) => block[mark]).map(([mark, word, title]) => (
            <span
              key={mark}
              className="shrink-0 border border-base-300 px-1 text-[11px]"
              title={title}
            >
              {word}
            </span>
          ))}
          {(row.component || row.line > 0) && (
            <button
              type="button"
              className="link muted shrink-0 text-[12px]"
              onClick={() => onPlace(row)}
              title={`${row.text}\n${row.file}:${row.line}`}
            >
              {row.component || "the model"}
              {row.line > 0 && `:${row.line}`}
            </button>
          )}
        </div>
      ))}
    </li>
  );
}
