import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas, type SeenRun } from "../api/client";
import { Formula } from "../ui/formulae";
import { formatTime, formatUnit } from "../ui/format";
import { Scrolled } from "../ui/scrolled";
import { useInstant } from "../state/instant";
import { usePlace } from "../state/place";
import { useSelection } from "../state/selection";
import { useTime } from "../state/time";
import { FaultPlace } from "../ui/fault-place";
import { TermLine } from "./term-line";

type Block = Schemas["EquationBlock"];

const MARKS: [keyof Block & ("state" | "discrete" | "constraint"), string, string][] = [
  ["state", "state", "gives the derivative of a state"],
  ["constraint", "constraint", "differentiated, because it ties states together"],
  ["discrete", "discrete", "changes at events only"],
];

interface Props {
  view: ModelView;
  /** The model that is run: the view's own, or the one around it where one stepped in. */
  whole: ModelView;
  /** The run whose values are shown. */
  run: SeenRun | undefined;
}

/** Equations up to which what their terms are worth is shown without being asked for. */
const FEW = 300;

/** What is really solved: every equation in order, with what it determines and where it comes from. */
export default function EquationsView({ view, whole, run }: Props) {
  const path = { project: whole.project, model: whole.model };
  const selected = useSelection((s) => s.selected);
  const { select } = useSelection.getState();
  const { setView } = usePlace.getState();
  const [only, setOnly] = useState<string | null>(null);
  const [kind, setKind] = useState("all");
  const [asked, setAsked] = useState<boolean | null>(null);
  const [sorted, setSorted] = useState(false);
  const [pointed, setPointed] = useState<string | null>(null);
  const measured = run && run.points > 0 ? run : undefined;
  const inWhole = useQuery({
    queryKey: ["equations", whole.project, whole.model, whole.mark],
    queryFn: () =>
      ask(client.GET("/api/projects/{project}/models/{model}/equations", { params: { path } })),
    retry: false,
    placeholderData: (before) => before,
  });
  const few = (inWhole.data?.blocks.length ?? 0) <= FEW;
  const valued = measured && (asked ?? few) ? measured : undefined;
  const inRun = useQuery({
    queryKey: ["run equations", valued?.id],
    queryFn: () =>
      ask(client.GET("/api/runs/{run}/equations", { params: { path: { run: valued!.id } } })),
    enabled: !!valued,
    staleTime: Infinity,
    retry: false,
  });
  const instant = useInstant() ?? measured?.time_reached ?? null;
  const terms = useQuery({
    queryKey: ["terms", valued?.id, valued?.points, instant],
    queryFn: () =>
      ask(
        client.GET("/api/runs/{run}/terms", {
          params: { path: { run: valued!.id }, query: { at: instant! } },
        }),
      ),
    enabled: !!valued && instant !== null,
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 20_000,
    retry: false,
  });
  const timeUnit = useTime((s) => s.unit);
  // A run solved its own equations: those of its scenario, of the model as it was.
  const list = valued && inRun.data ? inRun : inWhole;
  const offset = useMemo(() => firstRows(list.data?.blocks ?? []), [list.data]);
  const rowsOfTerms = valued && inRun.data ? terms.data?.rows : undefined;
  const within = (name: string) =>
    view.instance ? (name ? `${view.instance}.${name}` : view.instance) : name;
  const component = within(only ?? selected ?? "");
  const inside = (name: string) =>
    !component || name === component || name.startsWith(`${component}.`);
  if (list.error) {
    const refused = asRefusal(list.error);
    return (
      <div className="p-4">
        <p role="alert" className="text-error" data-testid="equations-fault">
          ✕ {refused.sentence}
        </p>
        <FaultPlace view={view} where={refused.where} />
      </div>
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
            value={only ?? selected ?? ""}
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
        {measured && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={!!valued}
              onChange={(event) => setAsked(event.target.checked)}
              data-testid="term-values"
            />
            {`values of run ${measured.number} at ${formatTime(instant ?? 0, timeUnit)}`}
          </label>
        )}
        {valued && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={sorted}
              onChange={(event) => setSorted(event.target.checked)}
              data-testid="largest-first"
            />
            largest first
          </label>
        )}
        <span className="muted" data-testid="equation-counts">
          {plural(counts.equations, "equation")}, {plural(counts.variables, "variable")},{" "}
          {plural(counts.states, "state")}; {counts.aliases} trivial removed;{" "}
          {plural((counts["linear loops"] ?? 0) + (counts["nonlinear loops"] ?? 0), "loop")},{" "}
          {counts["discrete variables"]} discrete
        </span>
      </div>
      <div
        className="min-h-0 flex-1 overflow-y-auto px-3 py-2"
        onPointerOver={(event) =>
          setPointed(
            (event.target as HTMLElement).closest<HTMLElement>("[data-name]")?.dataset.name ?? null,
          )
        }
        onPointerLeave={() => setPointed(null)}
      >
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
              values={rowsOfTerms?.slice(offset.get(block))}
              sorted={sorted}
              pointed={pointed}
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

/** The place of the first row of each block among all rows. */
function firstRows(blocks: Block[]): Map<Block, number> {
  const first = new Map<Block, number>();
  let count = 0;
  for (const block of blocks) {
    first.set(block, count);
    count += block.rows.length;
  }
  return first;
}

function EquationBlock({
  block,
  values,
  sorted,
  pointed,
  onPlace,
}: {
  block: Block;
  /** By row: what its terms are worth. */
  values: (number | null)[][] | undefined;
  sorted: boolean;
  /** The variable that is pointed at: rows that use it stand out. */
  pointed: string | null;
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
        <div
          key={i}
          className={pointed && row.uses.includes(pointed) ? "bg-base-200" : ""}
          data-lit={!!pointed && row.uses.includes(pointed)}
          data-testid={`equation-${row.determines}`}
        >
          <div className="flex items-baseline gap-3 py-0.5">
            <Scrolled label={`Equation of ${row.determines}`} className="min-w-0 flex-1">
              <Formula latex={row.latex} />
            </Scrolled>
            <span
              className="muted shrink-0 text-[12px]"
              title={`It determines ${row.determines}`}
              data-name={row.uses[0]}
            >
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
          {values?.[i] && row.terms.length > 0 && (
            <TermLine row={row} values={values[i]} sorted={sorted} />
          )}
        </div>
      ))}
    </li>
  );
}
