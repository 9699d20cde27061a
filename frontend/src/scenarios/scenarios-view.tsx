import { Plus } from "lucide-react";
import { useState } from "react";

import {
  asRefusal,
  type ModelView,
  type Row,
  type RunView,
  type Schemas,
  type SheetComponent,
} from "../api/client";
import { useShelf } from "../api/queries";
import { formatNumber, formatUnit } from "../ui/format";
import { DraftInput } from "../ui/draft-input";
import { rowWords } from "../ui/row-text";
import { verdictWords } from "../ui/verdict-words";
import type { Cell } from "../ui/cell-grid";
import { useCells, type CellMarks } from "../ui/use-cells";
import { useEdits } from "../state/use-edits";
import { ColourDot } from "../ui/colour-dot";
import { Sensitivities } from "./sensitivities";
import { BASE, freeName, newestRuns, scenariosOf, type Scenario } from "../state/scenarios";
import { usePlace } from "../state/place";

interface Props {
  view: ModelView;
  runs: RunView[];
  onFault: (sentence: string | null) => void;
}

const SETTINGS: [string, string][] = [
  ["stop", "stops at"],
  ["interval", "output every"],
  ["tolerance", "tolerance"],
  ["solver", "solver"],
];

/** Scenarios as columns, what they change as rows, edited like a spreadsheet; below, the claims with their verdicts. */
export default function ScenariosView({ view, runs, onFault }: Props) {
  const edits = useEdits(view, onFault);
  const setScenario = usePlace((s) => s.setScenario);
  const [added, setAdded] = useState<string[]>([]);
  const scenarios = scenariosOf(view);
  const places = [...new Set([...scenarios.flatMap((s) => Object.keys(s.changes)), ...added])];
  const settings = SETTINGS.filter(([name]) => scenarios.some((s) => name in s.settings));
  const rows = new Map(view.rows.map((row) => [row.name, row]));
  const newest = newestRuns(runs);
  const table = () =>
    [
      ["", ...scenarios.slice(1).map((s) => s.name)],
      ...places.map((place) => [place, ...scenarios.slice(1).map((s) => s.changes[place] ?? "")]),
    ]
      .map((cells) => cells.join("\t"))
      .join("\n");
  const others = scenarios.slice(1);
  /** One edit of the cells of a block, from a cell on. */
  const fill = (block: string[][], [top, left]: Cell) => {
    const columns = others.slice(left, left + Math.max(...block.map((line) => line.length)));
    const lines = places
      .slice(top, top + block.length)
      .map((place, r) => [place, ...columns.map((_, c) => block[r]![c] ?? "")]);
    const head = ["", ...columns.map((scenario) => scenario.name)];
    const text = [head, ...lines].map((line) => line.join("\t")).join("\n");
    edits.mutate({ do: "paste scenarios", text });
  };
  const { host, cell } = useCells({
    textOf: (r, c) => {
      const [place, scenario] = [places[r], others[c]];
      return place !== undefined && scenario ? (scenario.changes[place] ?? "") : null;
    },
    onPaste: (block, at) => {
      // A whole table, with names of scenarios and places, is taken over as such wherever it is pasted.
      if (block[0]![0] === "" || block.some((line) => rows.has(line[0]!))) return false;
      fill(block, at);
      return true;
    },
    onEmpty: (from, to) =>
      fill(
        Array.from({ length: Math.abs(to[0] - from[0]) + 1 }, () =>
          Array<string>(Math.abs(to[1] - from[1]) + 1).fill(""),
        ),
        [Math.min(from[0], to[0]), Math.min(from[1], to[1])],
      ),
  });
  return (
    <div
      className="h-full overflow-auto bg-base-100 p-3"
      data-testid="scenarios-view"
      role="region"
      tabIndex={0}
      aria-label="Scenarios as a table; paste a table from a spreadsheet here"
      onPaste={(event) => {
        const text = event.clipboardData.getData("text/plain");
        if (
          (event.target as HTMLElement).closest("input") &&
          !text.includes("\t") &&
          !text.includes("\n")
        )
          return;
        event.preventDefault();
        edits.mutate({ do: "paste scenarios", text });
      }}
      onCopy={(event) => {
        if ((event.target as HTMLElement).closest("input") || window.getSelection()?.toString())
          return;
        event.clipboardData.setData("text/plain", table());
        event.preventDefault();
      }}
    >
      <table className="border-collapse" aria-label="Scenarios and their changes" {...host}>
        <thead>
          <tr>
            <th className="min-w-48 pr-3 pb-1 text-left font-normal">
              <span className="muted">value</span>
            </th>
            {scenarios.map((scenario) => (
              <th key={scenario.name} scope="col" className="min-w-36 px-2 pb-1 text-left">
                <button
                  type="button"
                  className="flex items-center gap-1.5 hover:underline"
                  onClick={() => setScenario(scenario.name)}
                  title={`Choose ${scenario.name}`}
                >
                  <ColourDot slot={scenario.colour} /> {scenario.name}
                </button>
              </th>
            ))}
            <th className="pb-1">
              <button
                type="button"
                className="btn btn-ghost btn-xs"
                onClick={() =>
                  edits.mutate({
                    do: "add scenario",
                    name: freeName(view, "scenario 1"),
                    like: BASE,
                  })
                }
                aria-label="New scenario"
                title="New scenario"
                data-testid="matrix-add-scenario"
              >
                <Plus size={13} />
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          {places.map((place, r) => (
            <ChangeRow
              key={place}
              cell={(column) => cell(r, column)}
              view={view}
              place={place}
              row={rows.get(place)}
              scenarios={scenarios}
            />
          ))}
          {settings.map(([name, words]) => (
            <tr key={name} className="rule-t">
              <th scope="row" className="py-0.5 pr-3 text-left font-normal">
                {words}
              </th>
              {scenarios.map((scenario) => (
                <SettingCell key={scenario.name} view={view} scenario={scenario} name={name} />
              ))}
            </tr>
          ))}
          <tr className="rule-t">
            <td colSpan={scenarios.length + 2} className="py-1">
              <AddRow view={view} used={places} onAdd={(place) => setAdded([...added, place])} />
            </td>
          </tr>
          {view.claims.length > 0 && (
            <tr className="rule-t">
              <th
                scope="row"
                colSpan={scenarios.length + 2}
                className="muted pt-4 pb-1 text-left text-[12px] font-semibold"
              >
                Claims
              </th>
            </tr>
          )}
          {view.claims.map((claim) => (
            <tr key={claim} className="rule-t align-top">
              <th scope="row" className="mono max-w-72 py-1 pr-3 text-left font-normal">
                {claim}
              </th>
              {scenarios.map((scenario) => (
                <VerdictCell
                  key={scenario.name}
                  scenario={scenario}
                  claim={claim}
                  run={newest.get(scenario.name)}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <Sensitivities key={`${view.model} ${view.revision}`} view={view} />
      {places.length === 0 && (
        <p className="muted max-w-xl pt-4">
          Nothing is changed yet. Choose a scenario above and edit values in the ledger, add a row
          here, or paste a table from a spreadsheet: scenarios as columns, places such as basin.area
          as rows.
        </p>
      )}
    </div>
  );
}

function ChangeRow({
  view,
  place,
  row,
  scenarios,
  cell,
}: {
  view: ModelView;
  place: string;
  row: Row | undefined;
  scenarios: Scenario[];
  cell: (column: number) => CellMarks;
}) {
  const part = row ? undefined : view.sheet.components.find((c) => c.name === place);
  const known = row !== undefined || part !== undefined;
  return (
    <tr className="rule-t" data-testid={`matrix-${place}`}>
      <th scope="row" className="py-0.5 pr-3 text-left font-normal" title={row?.description}>
        <span className={known ? "" : "text-warning"}>{place}</span>
        {!known && (
          <span className="block text-[11.5px] text-warning">
            not in the model any more: left out of runs
          </span>
        )}
      </th>
      {scenarios.map((scenario, c) =>
        scenario.name === BASE ? (
          <td key={BASE} className="mono muted px-2 text-right whitespace-nowrap">
            {row ? rowWords(row) : (part?.class.split(".").at(-1) ?? "")}
          </td>
        ) : part ? (
          <SwapCell
            key={scenario.name}
            view={view}
            scenario={scenario}
            part={part}
            marks={cell(c - 1)}
          />
        ) : (
          <ChangeCell
            key={scenario.name}
            view={view}
            scenario={scenario}
            place={place}
            unit={row?.unit ?? ""}
            marks={cell(c - 1)}
          />
        ),
      )}
      <td />
    </tr>
  );
}

function ChangeCell({
  view,
  scenario,
  place,
  unit,
  marks,
}: {
  view: ModelView;
  scenario: Scenario;
  place: string;
  unit: string;
  marks: CellMarks;
}) {
  const edits = useEdits(view, () => undefined);
  const text = scenario.changes[place] ?? "";
  const refusal = edits.error ? asRefusal(edits.error).sentence : null;
  return (
    <td className="px-1 data-chosen:bg-primary/15" {...marks}>
      <span className="flex items-baseline gap-1">
        <DraftInput
          value={text}
          label={`${place} in ${scenario.name}`}
          testid={`cell-${scenario.name}-${place}`}
          className="input input-xs mono w-full rounded-none border-0 border-b border-base-300 bg-transparent text-right"
          placeholder="as base"
          refusal={refusal}
          onKeep={(typed, done) =>
            edits.mutate(
              {
                do: "scenario value",
                scenario: scenario.name,
                place,
                text: typed.trim() === "" ? null : typed,
              },
              { onSuccess: done },
            )
          }
          onAgain={edits.reset}
        />
        <span className="muted dense w-10 text-left">
          {text && !Number.isNaN(Number(text)) ? formatUnit(unit) : ""}
        </span>
      </span>
    </td>
  );
}

/** Words before the class that takes the place of a part. */
const SWAP = "redeclare ";

/** Another class in the place of a part, chosen among those with the same ports. */
function SwapCell({
  view,
  scenario,
  part,
  marks,
}: {
  view: ModelView;
  scenario: Scenario;
  part: SheetComponent;
  marks: CellMarks;
}) {
  const edits = useEdits(view, () => undefined);
  const shelf = useShelf(view.project, view.model, view.revision);
  const now = scenario.changes[part.name] ?? "";
  const ports = portsOf(part.icon);
  const fitting = (shelf.data?.entries ?? []).filter(
    (e) => e.class !== part.class && e.class !== view.model && portsOf(e.icon) === ports,
  );
  const classes = [
    ...new Set([...(now ? [now.replace(SWAP, "")] : []), ...fitting.map((e) => e.class)]),
  ];
  const refusal = edits.error ? asRefusal(edits.error).sentence : null;
  return (
    <td className="px-1 data-chosen:bg-primary/15" {...marks}>
      <select
        className="select select-xs w-full rounded-none border-0 border-b border-base-300 bg-transparent"
        value={now.replace(SWAP, "")}
        aria-label={`${part.name} in ${scenario.name}`}
        onChange={(event) =>
          edits.mutate({
            do: "scenario value",
            scenario: scenario.name,
            place: part.name,
            text: event.target.value ? SWAP + event.target.value : null,
          })
        }
        data-testid={`cell-${scenario.name}-${part.name}`}
      >
        <option value="">as base</option>
        {classes.map((name) => (
          <option key={name} value={name}>
            {name.split(".").at(-1)}
          </option>
        ))}
      </select>
      {refusal && (
        <p className="text-[12px] text-error" role="alert">
          ✕ {refusal}
        </p>
      )}
    </td>
  );
}

/** The ports of a symbol as a text that is the same for classes that can stand for each other. */
function portsOf(icon: Schemas["Icon"]): string {
  return icon.ports
    .map((p) => `${p.name} ${p.domain}`)
    .sort()
    .join(", ");
}

function SettingCell({
  view,
  scenario,
  name,
}: {
  view: ModelView;
  scenario: Scenario;
  name: string;
}) {
  const edits = useEdits(view, () => undefined);
  if (scenario.name === BASE)
    return <td className="mono muted px-2 text-right">{settingText(view, name)}</td>;
  return (
    <td className="px-1">
      <DraftInput
        value={scenario.settings[name] ?? ""}
        label={`${name} in ${scenario.name}`}
        testid={`setting-cell-${scenario.name}-${name}`}
        className="input input-xs mono w-full rounded-none border-0 border-b border-base-300 bg-transparent text-right"
        placeholder="as base"
        refusal={edits.error ? asRefusal(edits.error).sentence : null}
        onKeep={(text, done) =>
          edits.mutate(
            { do: "scenario setting", scenario: scenario.name, name, text },
            { onSuccess: done },
          )
        }
        onAgain={edits.reset}
      />
    </td>
  );
}

function settingText(view: ModelView, name: string): string {
  const value = view.settings?.[name as "stop" | "interval" | "tolerance" | "solver"];
  return typeof value === "number" ? formatNumber(value) : (value ?? "");
}

function VerdictCell({
  scenario,
  claim,
  run,
}: {
  scenario: Scenario;
  claim: string;
  run: RunView | undefined;
}) {
  const judged = run?.claims.find((c) => c.text === claim);
  if (scenario.off.includes(claim)) return <td className="muted px-2 py-1">left out</td>;
  if (!judged || run?.state !== "done")
    return <td className="muted px-2 py-1">{run ? "not judged yet" : "not run"}</td>;
  const colour =
    judged.holds === null ? "text-warning" : judged.holds ? "text-success" : "text-error";
  return (
    <td
      className="max-w-48 px-2 py-1"
      data-testid={`verdict-${scenario.name}-${claim}`}
      data-holds={String(judged.holds)}
    >
      <span className={colour}>
        {judged.holds === null ? "?" : judged.holds ? "✓ holds" : "✕ fails"}
      </span>
      <span className="muted block text-[11.5px]">{verdictWords(judged)}</span>
    </td>
  );
}

/** Choosing what else is to be changed: a parameter, a start value, or a part to be swapped. */
function AddRow({
  view,
  used,
  onAdd,
}: {
  view: ModelView;
  used: string[];
  onAdd: (place: string) => void;
}) {
  const [typed, setTyped] = useState("");
  const options = [
    ...view.rows
      .filter((row) => row.group !== "watch" && row.editable && row.type !== "law")
      .map((row) => row.name),
    ...view.sheet.components.filter((c) => c.port === null).map((c) => c.name),
  ].filter((name) => !used.includes(name));
  const fits = options.includes(typed);
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (!fits) return;
        onAdd(typed);
        setTyped("");
      }}
    >
      <input
        className="input input-sm w-64"
        list="matrix-places"
        placeholder="add a row: parameter, start value or part"
        aria-label="Place to change"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        data-testid="matrix-place"
      />
      <datalist id="matrix-places">
        {options.slice(0, 500).map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <button type="submit" className="btn btn-sm" disabled={!fits} data-testid="matrix-add-row">
        Add
      </button>
      <span className="muted text-[12px]">
        For a part, choose another class with the same ports.
      </span>
    </form>
  );
}
