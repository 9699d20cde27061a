import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ClipboardPaste, Download, Trash2, Upload } from "lucide-react";
import { useRef, useState } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { keys } from "../api/queries";
import { FileInput } from "../ui/file-input";
import { formatNumber, formatUnit } from "../ui/format";
import { DraftInput } from "../ui/draft-input";
import { useEdits } from "../state/use-edits";

type Row = Schemas["FigureRow"];

const PROJECT = "Figures";

/** The figures of the model, or those that all models of the project share. */
export default function FiguresView({ view }: { view: ModelView }) {
  const [shared, setShared] = useState(false);
  const cache = useQueryClient();
  const common = useQuery({
    queryKey: keys.model(view.project, PROJECT),
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}", {
          params: { path: { project: view.project, model: PROJECT } },
        }),
      ),
    enabled: shared,
    retry: false,
  });
  const begin = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/api/projects/{project}/files", {
          params: { path: { project: view.project } },
          body: {
            path: `${PROJECT}.mo`,
            text: `package ${PROJECT} "Named values of the whole project"\nend ${PROJECT};\n`,
          },
        }),
      ),
    onSuccess: () => cache.invalidateQueries({ queryKey: keys.model(view.project, PROJECT) }),
  });
  return (
    <div className="flex h-full flex-col bg-base-100" data-testid="figures-view">
      <div role="radiogroup" aria-label="Whose figures" className="rule-b flex gap-1 px-3 py-1">
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
      {shared && common.data && (
        <FigureTable key="shared" view={common.data} prefix={`${PROJECT}.`} />
      )}
      {shared && common.isError && (
        <div className="py-10 text-center">
          <p className="muted pb-3">
            Figures of the whole project are written as {PROJECT}.name in any parameter of any
            model.
          </p>
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => begin.mutate()}
            disabled={begin.isPending}
            data-testid="figures-begin"
          >
            Begin such a table
          </button>
          {begin.error && <p className="pt-2 text-error">✕ {asRefusal(begin.error).sentence}</p>}
        </div>
      )}
    </div>
  );
}

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
  const [pasting, setPasting] = useState(false);
  const rows = table.data?.figures ?? [];
  const load = (text: string) =>
    edits.mutate({ do: "figures", text }, { onSuccess: () => setPasting(false) });
  return (
    <div
      className="flex min-h-0 flex-1 flex-col"
      onPaste={(event) => {
        const text = event.clipboardData.getData("text/plain");
        if (!text.includes("\t") || (event.target as HTMLElement).closest("textarea")) return;
        event.preventDefault();
        load(text);
      }}
    >
      <div className="rule-b flex items-center gap-2 px-3 py-1.5">
        {edits.error ? (
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
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => setPasting(!pasting)}
          aria-expanded={pasting}
          data-testid="figures-paste"
        >
          <ClipboardPaste size={14} /> Paste a table
        </button>
        <button type="button" className="btn btn-sm" onClick={() => file.current?.click()}>
          <Upload size={14} /> Load CSV
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
          accept=".csv,.tsv,.txt"
          label="CSV file with figures"
          testid="figures-file"
          onFile={(chosen) => void chosen.text().then(load)}
        />
      </div>
      {pasting && <PasteTable onGiven={load} onClose={() => setPasting(false)} />}
      <div className="min-h-0 flex-1 overflow-y-auto">
        <table className="w-full" aria-label="Figures">
          <thead>
            <tr className="muted text-left text-[12px]">
              <th className="px-3 py-1 font-semibold">name</th>
              <th className="font-semibold">value or expression</th>
              <th className="font-semibold">unit</th>
              <th className="pr-3 text-right font-semibold">is</th>
              <th className="font-semibold">note</th>
              <th>
                <span className="sr-only">what can be done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <FigureLine key={row.name} row={row} view={view} />
            ))}
            <NewFigure view={view} />
          </tbody>
        </table>
        {rows.length === 0 && (
          <p className="muted px-3 py-6 text-center">
            No figures yet. Type one above, or paste rows of name, value, unit and note from a
            spreadsheet: that is where a datasheet or a lab sheet goes.
          </p>
        )}
      </div>
    </div>
  );
}

function FigureLine({ row, view }: { row: Row; view: ModelView }) {
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
      <td className="w-[18%] px-3 py-0.5">{field("name", "mono font-medium")}</td>
      <td className="w-[26%] pr-3">{field("expression", "mono")}</td>
      <td className="w-[11%] pr-3">{field("unit", "")}</td>
      <td className="w-[16%] pr-3 text-right">
        {row.fault ? (
          <span
            className="text-error text-[12px]"
            role="alert"
            data-testid={`figure-${row.name}-fault`}
          >
            ✕ {row.fault}
          </span>
        ) : (
          <span className="mono" data-testid={`figure-${row.name}-value`}>
            {typeof row.value === "number"
              ? `${formatNumber(row.value)}\u2009${formatUnit(row.si)}`
              : String(row.value ?? "")}
          </span>
        )}
      </td>
      <td>{field("note", "")}</td>
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
          aria-label={`Delete the figure ${row.name}`}
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
      aria-label={`${placeholder} of a new figure`}
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

function PasteTable({
  onGiven,
  onClose,
}: {
  onGiven: (text: string) => void;
  onClose: () => void;
}) {
  const [text, setText] = useState("");
  return (
    <div className="rule-b flex flex-col gap-2 px-3 py-2">
      <textarea
        autoFocus
        className="textarea mono h-28 w-full"
        placeholder={"name, value, unit, note: one row each, as copied from a spreadsheet"}
        aria-label="Rows of a table of figures"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && onClose()}
        data-testid="figures-rows"
      />
      <div className="flex gap-2">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={!text.trim()}
          onClick={() => onGiven(text)}
          data-testid="figures-take"
        >
          Take these figures
        </button>
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Cancel
        </button>
      </div>
    </div>
  );
}
