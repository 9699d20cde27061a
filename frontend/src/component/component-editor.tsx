import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { ask, client, type ModelView, type Schemas } from "../api/client";
import { useShelf } from "../api/queries";
import { Formula } from "../ui/formulae";
import { formatUnit } from "../ui/format";
import { Symbol } from "../drawing/symbol";
import { useDraft } from "../state/draft";
import type { Edits } from "../state/use-edits";
import { useSettled } from "../state/use-settled";
import { Editor, type Finding } from "../text/editor";
import { modelica, modelicaColours } from "../text/modelica-language";
import { completionsFor, hoverFor, wordsOf } from "../text/words";
import { RestoredDraft } from "./restored-draft";

const PAUSE = 200;

function template(used: string[]): string {
  let name = "Balance";
  for (let n = 2; used.includes(name); n += 1) name = `Balance${n}`;
  return `model ${name} "What it is"
  parameter Real k(unit="1/s") = 0.1 "Rate";
  Movrel.Signals.SignalIn u "What comes in";
  Movrel.Signals.SignalOut y "What is given";
  Real x(start = 0, fixed = true) "What is stored";
equation
  der(x) = u - k*x;
  y = x;
end ${name};
`;
}

function connectorTemplate(): string {
  return `connector Joint "What is joined here"
  Real p(unit="Pa") "Potential: equal at all joined ports";
  flow Real q(unit="m3/s") "Flow into the part: joined flows sum to zero";
end Joint;
`;
}

interface Props {
  view: ModelView;
  edits: Edits;
  /** The class to change; without one a new component is written. */
  className: string | null;
  onPlace: () => { x: number; y: number };
  onClose: () => void;
}

/** A component written as text: its ports, parameters and unknowns, and equations as they were derived. */
export function ComponentEditor({ view, edits, className, onPlace, onClose }: Props) {
  const path = { project: view.project, model: view.model };
  const known = useQuery({
    queryKey: ["class", view.project, view.model, className, view.revision],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/class", {
          params: { path, query: { name: className! } },
        }),
      ),
    enabled: className !== null,
    staleTime: Infinity,
  });
  const begin = useMemo(
    () =>
      className === null
        ? template(view.sheet.components.map((c) => c.class.split(".").at(-1)!))
        : (known.data?.text ?? null),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a template is made once
    [className, known.data],
  );
  if (begin === null) return <p className="muted p-4">Opening…</p>;
  return (
    <Writing
      key={className ?? "new"}
      view={view}
      edits={edits}
      begin={begin}
      replaces={className === null ? "" : className.split(".").at(-1)!}
      onPlace={onPlace}
      onClose={onClose}
    />
  );
}

function Writing({
  view,
  edits,
  begin,
  replaces,
  onPlace,
  onClose,
}: Omit<Props, "className"> & { begin: string; replaces: string }) {
  const draft = useDraft(`equations.${view.project}.${view.model}.${replaces}`, begin);
  const text = draft.value;
  const [shown, setShown] = useState({ text, round: 0 });
  const settled = useSettled(text, PAUSE);
  const path = { project: view.project, model: view.model };
  const check = useQuery({
    queryKey: ["component", view.project, view.model, view.revision, replaces, settled],
    queryFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/component", {
          params: { path },
          body: { text: settled, replaces },
        }),
      ),
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const shelf = useShelf(view.project, view.model, view.revision);
  const words = useMemo(() => {
    const own = check.data
      ? [...check.data.parameters, ...check.data.unknowns].map((n) => ({
          name: n.name,
          kind: "variable",
          description: n.description,
          detail: formatUnit(n.unit),
        }))
      : [];
    return [
      ...own,
      ...wordsOf(
        { ...view, rows: [], sheet: { ...view.sheet, components: [] } },
        shelf.data?.entries ?? [],
      ),
    ];
  }, [check.data, shelf.data, view]);
  const findings = useMemo<Finding[]>(
    () =>
      (check.data?.faults ?? []).map((f) => ({
        severity: "error",
        message: f.message,
        hint: f.hint,
        line: f.where?.line ?? 0,
        column: f.where?.column ?? 1,
      })),
    [check.data],
  );
  const good = check.data !== undefined && check.data.faults.length === 0;
  const keep = () => {
    if (!good) return;
    edits.mutate(
      { do: "component", text, replaces, ...onPlace() },
      { onSuccess: () => (draft.forget(), onClose()) },
    );
  };
  return (
    <div className="flex h-full flex-col bg-base-100" data-testid="component-editor">
      <div className="rule-b flex items-center gap-3 px-3 py-1.5">
        <span className="font-medium">
          {replaces
            ? `Text of ${replaces}`
            : check.data?.connector
              ? "A connector: what ports carry"
              : "A component written as equations"}
        </span>
        <span className="ml-auto" />
        {!replaces && text === begin && (
          <button
            type="button"
            className="btn btn-ghost btn-sm"
            title="A connector says what ports carry: potentials that are equal, and flows that sum to zero"
            onClick={() => {
              const connector = connectorTemplate();
              draft.change(connector);
              setShown({ text: connector, round: shown.round + 1 });
            }}
            data-testid="component-connector"
          >
            A connector instead
          </button>
        )}
        <button
          type="button"
          className="btn btn-sm"
          onClick={onClose}
          data-testid="component-close"
        >
          Leave
        </button>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          onClick={keep}
          disabled={!good || edits.isPending}
          data-testid="component-keep"
        >
          {replaces ? "Keep (Ctrl+S)" : "Put it on the sheet (Ctrl+S)"}
        </button>
      </div>
      {draft.restored && (
        <RestoredDraft
          onForget={() => {
            draft.forget();
            setShown({ text: begin, round: shown.round + 1 });
          }}
        />
      )}
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
        <div className="rule-r min-h-0">
          <Editor
            key={shown.round}
            text={shown.text}
            label="Text of the component"
            testid="component-text"
            language={modelica}
            extra={modelicaColours}
            complete={completionsFor(words)}
            hover={hoverFor(words)}
            findings={findings}
            onChange={draft.change}
            onKeep={keep}
          />
        </div>
        <Preview check={check.data} />
      </div>
    </div>
  );
}

/** What the text says: faults first, then the symbol with its ports, and the equations typeset. */
export function Preview({ check }: { check: Schemas["ComponentCheck"] | undefined }) {
  if (!check) return <p className="muted p-3">Looking through the text…</p>;
  return (
    <div
      className="min-h-0 overflow-y-auto px-3 py-2"
      aria-live="polite"
      data-testid="component-preview"
    >
      {check.faults.map((fault) => (
        <p
          key={fault.message}
          className="text-error pb-1"
          role="alert"
          data-testid="component-fault"
        >
          ✕ {fault.where ? `line ${fault.where.line}: ` : ""}
          {fault.message} {fault.hint}
        </p>
      ))}
      {check.balance && (
        <p className="text-error pb-1" data-testid="component-balance">
          ✕ {check.balance}
        </p>
      )}
      {check.faults.length === 0 && !check.balance && (
        <p className="pb-1" data-testid="component-balance">
          ✓ {check.counts}
        </p>
      )}
      {check.warnings.map((warning) => (
        <p key={warning} className="pb-1" data-testid="component-warning">
          ? {warning}
        </p>
      ))}
      {check.icon && check.faults.length === 0 && (
        <div className="flex items-center gap-4 py-2">
          <SymbolOf name={check.name} icon={check.icon} />
          <ul className="text-[12px]">
            {check.ports.map((port) => (
              <li key={port.name}>
                <b className="font-medium">{port.name}</b>{" "}
                <span className="muted">
                  {port.direction ? `${port.direction}put` : `${port.domain} port`}
                </span>
              </li>
            ))}
            {check.ports.length === 0 && (
              <li className="muted">
                {check.connector ? "a port of the model on the sheet" : "no ports yet"}
              </li>
            )}
          </ul>
        </div>
      )}
      <ul className="equation-list">
        {check.equations.map((equation, i) => (
          <li key={i} className="py-1">
            <Formula latex={equation.latex} />
          </li>
        ))}
      </ul>
      <Names title="Parameters" names={check.parameters} />
      <Names title={check.connector ? "What it carries" : "Unknowns"} names={check.unknowns} />
    </div>
  );
}

function Names({ title, names }: { title: string; names: Schemas["Named"][] }) {
  if (names.length === 0) return null;
  return (
    <section className="pt-2">
      <h3 className="muted text-[12px] font-semibold">{title}</h3>
      {names.map((entry) => (
        <p key={entry.name} className="flex gap-2">
          <span className="mono">{entry.name}</span>
          <span className="muted">{formatUnit(entry.unit)}</span>
          <span className="muted truncate">{entry.description}</span>
        </p>
      ))}
    </section>
  );
}

function SymbolOf({ name, icon }: { name: string; icon: Schemas["Icon"] }) {
  const component = {
    name,
    class: name,
    symbol: name,
    description: "",
    extent: [0, 0, 40, 40],
    rotation: 0,
    icon,
    opens: false,
    port: null,
    labels: {},
    numbers: {},
  };
  return (
    <svg
      viewBox="-14 -14 108 108"
      className="h-24 w-24 shrink-0"
      role="img"
      aria-label={`Symbol of ${name}`}
    >
      <Symbol component={component} />
    </svg>
  );
}
