import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { useDraft } from "../state/draft";
import { useSettled } from "../state/use-settled";
import type { Edits } from "../state/use-edits";
import { Editor } from "../text/editor";
import { findingsOf } from "../text/findings";
import { RestoredDraft } from "./restored-draft";

type Code = Schemas["CodeComponent"];

const PAUSE = 200;
const BEGIN: Code = {
  name: "Controller",
  description: "What it does",
  inputs: ["wanted", "measured"],
  outputs: ["drive"],
  parameters: { gain: "2", limit: "5" },
  units: {},
  memory: {},
  period: "",
  source: `error = wanted - measured
drive = max(-limit, min(limit, gain*error))
`,
};

interface Props {
  view: ModelView;
  edits: Edits;
  /** The code to change; without any a new component is written. */
  code: Code | null;
  onPlace: () => { x: number; y: number };
  onClose: () => void;
}

/** A component whose inside is written in a small part of Python. */
export function CodeEditor({ view, edits, code, onPlace, onClose }: Props) {
  const [first] = useState<Code>(() => code ?? { ...BEGIN, name: freeName(view) });
  const kept = useDraft(`code.${view.project}.${view.model}.${code?.name ?? ""}`, first);
  const { value: draft, change: setDraft } = kept;
  const settled = useSettled(draft, PAUSE);
  const [shown, setShown] = useState({ source: draft.source, round: 0 });
  const translated = useQuery({
    queryKey: ["code", settled],
    queryFn: () => ask(client.POST("/api/code", { body: settled })),
    retry: false,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const refused = translated.error ? asRefusal(translated.error) : null;
  const findings = useMemo(() => findingsOf(refused), [refused]);
  const keep = () => {
    if (!translated.data || settled !== draft) return;
    edits.mutate(
      {
        do: "component",
        text: translated.data.text,
        replaces: code ? code.name : "",
        ...onPlace(),
      },
      { onSuccess: () => (kept.forget(), onClose()) },
    );
  };
  const field = "input input-sm mono w-full";
  return (
    <div className="flex h-full flex-col bg-base-100" data-testid="code-editor">
      <div className="rule-b flex items-center gap-3 px-3 py-1.5">
        <span className="font-medium">
          {code ? `Code of ${code.name}` : "A component written as code"}
        </span>
        <span className="ml-auto" />
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Leave
        </button>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          onClick={keep}
          disabled={!translated.data || settled !== draft || edits.isPending}
          data-testid="code-keep"
        >
          {code ? "Keep (Ctrl+S)" : "Put it on the sheet (Ctrl+S)"}
        </button>
      </div>
      {kept.restored && (
        <RestoredDraft
          onForget={() => {
            kept.forget();
            setShown({ source: first.source, round: shown.round + 1 });
          }}
        />
      )}
      <div className="grid min-h-0 flex-1 grid-cols-[17rem_minmax(0,1fr)]">
        <div className="rule-r flex flex-col gap-2 overflow-y-auto p-3">
          <Field label="Name">
            <input
              className={field}
              value={draft.name}
              disabled={code !== null}
              onChange={(e) => setDraft({ ...draft, name: e.target.value })}
              data-testid="code-name"
            />
          </Field>
          <Field label="Inputs, units in brackets: speed [rad/s]">
            <Names
              value={draft.inputs ?? []}
              units={draft.units ?? {}}
              className={field}
              onChange={(inputs, units) =>
                setDraft({ ...draft, inputs, units: { ...draft.units, ...units } })
              }
              testid="code-inputs"
            />
          </Field>
          <Field label="Outputs">
            <Names
              value={draft.outputs ?? []}
              units={draft.units ?? {}}
              className={field}
              onChange={(outputs, units) =>
                setDraft({ ...draft, outputs, units: { ...draft.units, ...units } })
              }
              testid="code-outputs"
            />
          </Field>
          <Field label="Parameters, with their values: limit = 5 V">
            <Pairs
              value={draft.parameters ?? {}}
              className={field}
              onChange={(parameters) => setDraft({ ...draft, parameters })}
              testid="code-parameters"
            />
          </Field>
          <Field label="Memory, with its values at the start">
            <Pairs
              value={texts(draft.memory ?? {})}
              className={field}
              onChange={(memory) => setDraft({ ...draft, memory: numbers(memory) })}
              testid="code-memory"
            />
          </Field>
          <Field label="Sampling period (empty: at all times; memory needs one)">
            <input
              className={field}
              value={draft.period ?? ""}
              onChange={(e) => setDraft({ ...draft, period: e.target.value })}
              data-testid="code-period"
            />
          </Field>
          <Field label="Description">
            <input
              className={field}
              value={draft.description ?? ""}
              onChange={(e) => setDraft({ ...draft, description: e.target.value })}
            />
          </Field>
          <p className="muted text-[12px]">
            Assignments, <span className="mono">if</span>,{" "}
            <span className="mono">for i in range(10)</span>, arithmetic and functions such as{" "}
            <span className="mono">sin, sqrt, min, max</span>. It becomes an algorithm in the text
            of the model.
          </p>
        </div>
        <div className="flex min-h-0 flex-col">
          <div className="min-h-0 flex-1">
            <Editor
              key={shown.round}
              text={shown.source}
              label="Code of the component"
              testid="code-text"
              findings={findings}
              onChange={(source) => setDraft({ ...draft, source })}
              onKeep={keep}
            />
          </div>
          <div
            className="rule-t max-h-40 overflow-y-auto px-3 py-1.5"
            role="status"
            data-testid="code-status"
          >
            {refused ? (
              <span className="text-error">✕ {refused.sentence}</span>
            ) : translated.data ? (
              <span>✓ can be put on the sheet</span>
            ) : (
              <span className="muted">Reading…</span>
            )}
          </div>
        </div>
      </div>
    </div>
  );
}

function freeName(view: ModelView): string {
  const used = view.sheet.components.map((c) => c.class.split(".").at(-1));
  let name = BEGIN.name;
  for (let n = 2; used.includes(name); n += 1) name = `${BEGIN.name}${n}`;
  return name;
}

function Field({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <label className="block">
      <span className="muted block pb-0.5 text-[12px]">{label}</span>
      {children}
    </label>
  );
}

/** Names in a line, each with its unit in brackets where it has one. */
function Names({
  value,
  units,
  className,
  onChange,
  testid,
}: {
  value: string[];
  units: Record<string, string>;
  className: string;
  onChange: (names: string[], units: Record<string, string>) => void;
  testid: string;
}) {
  const [text, setText] = useState(() =>
    value.map((name) => (units[name] ? `${name} [${units[name]}]` : name)).join(", "),
  );
  return (
    <input
      className={className}
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        const read = [...event.target.value.matchAll(/([^\s,[\]]+)\s*(?:\[([^\]]*)\]?)?/g)];
        onChange(
          read.map((match) => match[1]!),
          Object.fromEntries(read.map((match) => [match[1]!, match[2]?.trim() ?? ""])),
        );
      }}
      data-testid={testid}
    />
  );
}

/** Names with a value each, in a line. */
function Pairs({
  value,
  className,
  onChange,
  testid,
}: {
  value: Record<string, string>;
  className: string;
  onChange: (pairs: Record<string, string>) => void;
  testid: string;
}) {
  const [text, setText] = useState(() =>
    Object.entries(value)
      .map(([name, given]) => `${name} = ${given}`)
      .join(", "),
  );
  return (
    <input
      className={className}
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        const pairs = event.target.value
          .split(/[,;]/)
          .map((piece) => piece.split("=").map((s) => s.trim()))
          .filter(([name]) => name);
        onChange(Object.fromEntries(pairs.map(([name, given]) => [name!, given ?? ""])));
      }}
      data-testid={testid}
    />
  );
}

function numbers(pairs: Record<string, string>): Record<string, number> {
  return Object.fromEntries(Object.entries(pairs).map(([name, text]) => [name, Number(text) || 0]));
}

function texts(memory: Record<string, number>): Record<string, string> {
  return Object.fromEntries(Object.entries(memory).map(([name, start]) => [name, String(start)]));
}
