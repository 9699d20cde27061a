import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ClipboardPaste, Download, ScrollText, Trash2, Upload } from "lucide-react";
import { useRef, useState } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { readValues, useModel } from "../api/queries";
import { useDraft } from "../state/draft";
import { FileInput } from "../ui/file-input";
import { counted, formatNumber, formatUnit } from "../ui/format";
import { PasteValues } from "./paste-values";
import { StartScript } from "./start-script";
import { DraftInput } from "../ui/draft-input";
import { useCells, type CellMarks } from "../ui/use-cells";
import { useEdits } from "../state/use-edits";

type Row = Schemas["FigureRow"];

/** The package of a project that holds its values: how it is called, and how it was called. */
const PACKAGES = ["Values", "Figures"];

/** The named values of the model, or those that all models of the project share. */
export default function FiguresView({ view }: { view: ModelView }) {
  const [shared, setShared] = useState(false);
  const cache = useQueryClient();
  const common = useQuery({
    queryKey: ["shared values", view.project],
    queryFn: async () => {
      for (const model of PACKAGES) {
        const path = { project: view.project, model };
        const { data } = await client.GET("/api/projects/{project}/models/{model}", {
          params: { path },
        });
        if (data) return model;
      }
      return null;
    },
    enabled: shared,
  });
  const begin = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/api/projects/{project}/files", {
          params: { path: { project: view.project } },
          body: {
            path: `${PACKAGES[0]}.mo`,
            text: `package ${PACKAGES[0]} "Named values of the whole project"\nend ${PACKAGES[0]};\n`,
          },
        }),
      ),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["shared values", view.project] }),
  });
  return (
    <div className="flex h-full flex-col bg-base-100" data-testid="figures-view">
      <div role="radiogroup" aria-label="Whose values" className="rule-b flex gap-1 px-3 py-1">
        {[false, true].map((which) => (
          <button
            key={String(which)}
            type="button"
            role="radio"
            aria-checked={shared === which}
            className={`px-2 py-0.5 ${shared === which ? "font-medium" : "muted"}`}
            onClick={() => setShared(which)}
            data-testid={which ? "figures-project" : "figures-model"}
          >
            {which ? "of the whole project" : `of ${view.sheet.name}`}
          </button>
        ))}
      </div>
      {!shared && <FigureTable key="own" view={view} />}
      {shared && common.data && <SharedTable project={view.project} model={common.data} />}
      {shared && common.data === null && (
        <div className="py-10 text-center">
          <p className="muted pb-3">
            Values of the whole project are written as {PACKAGES[0]}.name in any parameter of any
            model.
          </p>
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => begin.mutate()}
            disabled={begin.isPending}
            data-testid="figures-begin"
          >
            Start a table of values
          </button>
          {begin.error && <p className="pt-2 text-error">✕ {asRefusal(begin.error).sentence}</p>}
        </div>
      )}
    </div>
  );
}

function SharedTable({ project, model }: { project: number; model: string }) {
  const view = useModel(project, model);
  return view.data ? <FigureTable key={model} view={view.data} prefix={`${model}.`} /> : null;
}

/** What can be edited of a value, by column. */
const FIELDS = ["name", "expression", "unit", "note"] as const;

/** A table of named values and expressions on which parameters draw. */
function FigureTable({ view, prefix = "" }: { view: ModelView; prefix?: string }) {
  const edits = useEdits(view, () => undefined);
  const path = { project: view.project, model: view.model };
  const table = useQuery({
    queryKey: ["figures", view.project, view.model, view.revision],
    queryFn: () =>
      ask(client.GET("/api/projects/{project}/models/{model}/figures", { params: { path } })),
    placeholderData: (before) => before,
  });
  const file = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState(false);
  const [scripting, setScripting] = useState(false);
  const draft = useDraft(`values ${view.project} ${view.model}`, "");
  const rows = table.data?.figures ?? [];
  const [busy, setBusy] = useState("");
  /** Take over a text; where lines of it are not understood, they are shown first. */
  const load = async (text: string) => {
    setBusy("Reading…");
    const read = await readValues(view, text).finally(() => setBusy(""));
    if (read.unread.length === 0 && read.count > 0) {
      setBusy(`Adding ${counted(read.count, "value")}…`);
      edits.mutate({ do: "figures", text }, { onSettled: () => setBusy("") });
    } else {
      draft.change(text);
      setOpen(true);
    }
  };
  const typed = rows.filter((row) => !row.scripted);
  const lineOf = new Map(typed.map((row, r) => [row.name, r]));
  const { host, cell } = useCells({
    textOf: (r, c) => typed[r]?.[FIELDS[c] ?? "name"] ?? null,
    onPaste: (block, [top, left]) => {
      // Whole lines of other tables and scripts bring their names with them.
      if (left === 0 || block.some((line) => line.some((text) => text.includes("=")))) return false;
      const lines = block.flatMap((line, r) => {
        const row = typed[top + r];
        if (!row) return [];
        return [FIELDS.map((field, c) => line[c - left] ?? row[field]).join("\t")];
      });
      edits.mutate({ do: "figures", text: lines.join("\n") });
      return true;
    },
  });
  return (
    <div
      className="flex min-h-0 flex-1 flex-col"
      onPaste={(event) => {
        const text = event.clipboardData.getData("text/plain");
        const several = text.includes("\t") || text.trim().includes("\n");
        if (!several || (event.target as HTMLElement).closest("textarea")) return;
        event.preventDefault();
        void load(text);
      }}
    >
      <div className="rule-b flex items-center gap-2 px-3 py-1.5">
        {busy ? (
          <span className="muted" role="status">
            {busy}
          </span>
        ) : edits.error ? (
          <span className="text-error" role="alert" data-testid="figures-fault">
            ✕ {asRefusal(edits.error).sentence}
          </span>
        ) : (
          <span className="muted">
            {prefix
              ? `Any parameter of any model can use them, as ${prefix}name.`
              : "Any parameter of the model can use them."}{" "}
            Formulae count in SI units.
          </span>
        )}
        <span className="ml-auto" />
        {prefix && table.data && (
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => setScripting(!scripting)}
            aria-expanded={scripting}
            title="Values that are worked out with loops, arrays and functions"
            data-testid="figures-script"
          >
            <ScrollText size={14} /> Start script
          </button>
        )}
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => setOpen(!open)}
          aria-expanded={open}
          title="Lines of a script or cells of a spreadsheet"
          data-testid="figures-paste"
        >
          <ClipboardPaste size={14} /> Paste values
        </button>
        <button type="button" className="btn btn-sm" onClick={() => file.current?.click()}>
          <Upload size={14} /> Load a file
        </button>
        <a
          className="btn btn-sm"
          href={`/api/projects/${view.project}/models/${encodeURIComponent(view.model)}/figures.csv`}
          download
        >
          <Download size={14} /> CSV
        </a>
        <FileInput
          inputRef={file}
          accept=".csv,.tsv,.txt,.m,.py,.mo,.ini"
          label="File with values"
          testid="figures-file"
          onFile={(chosen) => void chosen.text().then(load)}
        />
      </div>
      {scripting && table.data && (
        <StartScript view={view} script={table.data.script} onClose={() => setScripting(false)} />
      )}
      {open && <PasteValues view={view} draft={draft} onClose={() => setOpen(false)} />}
      <div className="min-h-0 flex-1 overflow-y-auto">
        <table className="w-full" aria-label="Values" {...host}>
          <thead>
            <tr className="muted text-left text-[12px]">
              <th className="px-3 py-1 font-semibold">name</th>
              <th className="font-semibold">value or expression</th>
              <th className="font-semibold">unit</th>
              <th className="pr-3 text-right font-semibold">result</th>
              <th className="font-semibold">note</th>
              <th>
                <span className="sr-only">what can be done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) =>
              row.scripted ? (
                <ScriptedLine key={row.name} row={row} />
              ) : (
                <FigureLine
                  key={row.name}
                  row={row}
                  view={view}
                  cell={(column) => cell(lineOf.get(row.name)!, column)}
                />
              ),
            )}
            {table.data?.tables.map((scripted) => (
              <tr key={scripted.name} data-testid={`figure-${scripted.name}`}>
                <td className="mono px-4 py-1 font-medium">{scripted.name}</td>
                <td className="muted pr-3">from the start script</td>
                <td className="pr-3">{formatUnit(scripted.unit)}</td>
                <td className="muted pr-3 text-right">{scripted.size}</td>
                <td>{scripted.note}</td>
                <td />
              </tr>
            ))}
            <NewFigure view={view} />
          </tbody>
        </table>
        {rows.length === 0 && !table.data?.script && (
          <p className="muted px-3 py-6 text-center">
            No values yet. Type one above, or paste a datasheet: lines of a script, or cells of
            name, value, unit and note.
          </p>
        )}
      </div>
    </div>
  );
}

/** A value that the start script works out: it is changed there. */
function ScriptedLine({ row }: { row: Row }) {
  return (
    <tr className="align-middle" data-testid={`figure-${row.name}`}>
      <td className="mono px-4 py-1 font-medium">{row.name}</td>
      <td className="muted pr-3">from the start script</td>
      <td className="pr-3">{formatUnit(row.unit)}</td>
      <td className="pr-3 text-right">
        <Result row={row} />
      </td>
      <td>{row.note}</td>
      <td />
    </tr>
  );
}

function Result({ row }: { row: Row }) {
  return row.fault ? (
    <span className="text-error text-[12px]" role="alert" data-testid={`figure-${row.name}-fault`}>
      ✕ {row.fault}
    </span>
  ) : (
    <span className="mono" data-testid={`figure-${row.name}-value`}>
      {typeof row.value === "number"
        ? `${formatNumber(row.value)}\u2009${formatUnit(row.si)}`
        : String(row.value ?? "")}
    </span>
  );
}

function FigureLine({
  row,
  view,
  cell,
}: {
  row: Row;
  view: ModelView;
  cell: (column: number) => CellMarks;
}) {
  const edits = useEdits(view, () => undefined);
  const refusal = edits.error ? asRefusal(edits.error).sentence : null;
  const [touched, setTouched] = useState<string>("");
  const set = (
    change: Partial<Pick<Row, "name" | "expression" | "unit" | "note">>,
    done: () => void,
  ) => {
    const next = {
      name: row.name,
      expression: row.expression,
      unit: row.unit,
      note: row.note,
      ...change,
    };
    setTouched(Object.keys(change)[0]!);
    edits.mutate({ do: "figure", old: row.name, ...next }, { onSuccess: done });
  };
  const field = (key: "name" | "expression" | "unit" | "note", className: string) => (
    <DraftInput
      value={row[key]}
      label={`${key === "expression" ? "value" : key} of ${row.name}`}
      testid={`figure-${row.name}-${key}`}
      className={`input input-sm w-full rounded-none border-0 border-b border-base-300 bg-transparent px-1 align-middle ${className}`}
      refusal={touched === key ? refusal : null}
      onKeep={(text, done) => set({ [key]: text.trim() }, done)}
      onAgain={edits.reset}
    />
  );
  return (
    <tr className="align-middle" data-testid={`figure-${row.name}`}>
      <td className="w-[18%] px-3 py-0.5 data-chosen:bg-primary/15" {...cell(0)}>
        {field("name", "mono font-medium")}
      </td>
      <td className="w-[26%] pr-3 data-chosen:bg-primary/15" {...cell(1)}>
        {field("expression", "mono")}
      </td>
      <td className="w-[11%] pr-3 data-chosen:bg-primary/15" {...cell(2)}>
        {field("unit", "")}
      </td>
      <td className="w-[16%] pr-3 text-right">
        <Result row={row} />
      </td>
      <td className="data-chosen:bg-primary/15" {...cell(3)}>
        {field("note", "")}
      </td>
      <td className="w-8 pt-0.5">
        <button
          type="button"
          className="btn btn-ghost btn-xs px-1"
          onClick={() =>
            edits.mutate(
              { do: "delete figure", name: row.name },
              { onError: () => setTouched("name") },
            )
          }
          aria-label={`Delete the value ${row.name}`}
          title="Delete"
        >
          <Trash2 size={13} />
        </button>
      </td>
    </tr>
  );
}

function NewFigure({ view }: { view: ModelView }) {
  const edits = useEdits(view, () => undefined);
  const empty = { name: "", expression: "", unit: "", note: "" };
  const [draft, setDraft] = useState(empty);
  const first = useRef<HTMLInputElement>(null);
  const add = () => {
    if (!draft.name.trim() || !draft.expression.trim()) return;
    edits.mutate(
      { do: "figure", old: "", ...draft, name: draft.name.trim() },
      {
        onSuccess: () => {
          setDraft(empty);
          first.current?.focus();
        },
      },
    );
  };
  const cell = (key: keyof typeof empty, placeholder: string) => (
    <input
      ref={key === "name" ? first : undefined}
      className="input input-sm mono w-full rounded-none border-0 border-b border-base-300 bg-transparent px-1"
      placeholder={placeholder}
      aria-label={`${placeholder} of a new value`}
      value={draft[key]}
      onChange={(event) => {
        setDraft({ ...draft, [key]: event.target.value });
        edits.reset();
      }}
      onKeyDown={(event) => event.key === "Enter" && add()}
      data-testid={`new-figure-${key}`}
    />
  );
  return (
    <>
      <tr>
        <td className="px-3 py-0.5">{cell("name", "new name")}</td>
        <td className="pr-3">{cell("expression", "value or expression")}</td>
        <td className="pr-3">{cell("unit", "unit")}</td>
        <td className="pr-3 text-right">
          <button
            type="button"
            className="btn btn-xs"
            onClick={add}
            disabled={!draft.name.trim() || !draft.expression.trim() || edits.isPending}
            data-testid="new-figure-add"
          >
            Add
          </button>
        </td>
        <td>{cell("note", "note")}</td>
        <td />
      </tr>
      {edits.error && (
        <tr>
          <td colSpan={6} className="px-3 text-error">
            <span role="alert" data-testid="new-figure-fault">
              ✕ {asRefusal(edits.error).sentence}
            </span>
          </td>
        </tr>
      )}
    </>
  );
}
