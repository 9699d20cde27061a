import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Play, ShieldAlert, Trash2 } from "lucide-react";
import { lazy, Suspense } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { keys } from "../api/queries";
import type { Edits } from "../state/use-edits";
import { sizeWords } from "./choices";
import { ExchangeUnit } from "./exchange-unit";
import { ForeignPart } from "./foreign-part";

export type ForeignPage = Schemas["ForeignUnitPage"];

const TrialPicture = lazy(() => import("./trial-picture"));

interface Props {
  view: ModelView;
  edits: Edits;
  number: number;
  onPlace: () => { x: number; y: number };
  onGone: () => void;
}

/** A unit of others: what is in it, what it can do, what looks wrong, a run of it alone, and the way to the sheet. */
export function ForeignUnit({ view, edits, number, onPlace, onGone }: Props) {
  const cache = useQueryClient();
  const path = { params: { path: { unit: number } } };
  const page = useQuery({
    queryKey: keys.foreignUnit(number),
    queryFn: () => ask(client.GET("/api/foreign-units/{unit}", path)),
    refetchInterval: (query) =>
      ["waiting", "running"].includes(query.state.data?.trial.state ?? "") ? 500 : false,
  });
  const fresh = (answer: ForeignPage) => {
    cache.setQueryData(keys.foreignUnit(number), answer);
    void cache.invalidateQueries({ queryKey: keys.foreignUnits(view.project) });
  };
  const allow = useMutation({
    mutationFn: () => ask(client.POST("/api/foreign-units/{unit}/allow", path)),
    onSuccess: fresh,
  });
  const tryIt = useMutation({
    mutationFn: () => ask(client.POST("/api/foreign-units/{unit}/trial", path)),
    onSuccess: fresh,
  });
  const remove = useMutation({
    mutationFn: () => ask(client.DELETE("/api/foreign-units/{unit}", path)),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: keys.foreignUnits(view.project) });
      onGone();
    },
  });
  if (page.error) return <p className="p-4 text-error">{asRefusal(page.error).sentence}</p>;
  if (!page.data) return <p className="muted p-4">Opening…</p>;
  const unit = page.data;
  const kinds = unit.interfaces.map((k) => (k === "me" ? "model exchange" : "co-simulation"));
  const lines: [string, string][] = [
    ["for", `${kinds.join(" and ")} (FMI ${unit.version}.0)`],
    ["made by", unit.made],
    ["states", String(unit.states)],
    ["event indicators", unit.indicators ? String(unit.indicators) : ""],
    ["default experiment", unit.experiment || "none"],
    ["binaries for", unit.platforms.join(", ") || "no platform"],
    ["sources", unit.sources ? "inside" : "none"],
    ["can do", unit.capabilities.join("; ")],
    ["file", `${unit.unit.path}, ${sizeWords(unit.unit.size)}`],
  ];
  const fault = allow.error ?? tryIt.error ?? remove.error;
  const trying = ["waiting", "running"].includes(unit.trial.state ?? "");
  return (
    <div className="flex max-w-4xl flex-col gap-4 p-4" data-testid="foreign-unit">
      <header>
        <h2 className="font-semibold">{unit.title}</h2>
        {unit.description && <p className="max-w-prose">{unit.description}</p>}
      </header>
      {!unit.unit.allowed && (
        <div
          className="flex items-center gap-3 border border-warning px-3 py-2"
          data-testid="foreign-unit-question"
        >
          <ShieldAlert size={20} className="shrink-0" />
          <p className="min-w-0 flex-1">
            This unit brings machine code of others. It runs in a process of its own with limits of
            time and memory, but it is code all the same. May it run here? The answer holds for
            exactly this file.
          </p>
          <button
            type="button"
            className="btn btn-primary btn-sm shrink-0"
            onClick={() => allow.mutate()}
            disabled={allow.isPending}
            data-testid="foreign-unit-allow"
          >
            It may run
          </button>
        </div>
      )}
      {unit.obstacle && (
        <p className="text-error" data-testid="foreign-unit-obstacle">
          It cannot run on this machine: {unit.obstacle}
        </p>
      )}
      <dl className="grid w-fit grid-cols-[auto_minmax(0,1fr)] gap-x-6 gap-y-1">
        {lines
          .filter(([, words]) => words)
          .map(([name, words]) => (
            <div key={name} className="contents">
              <dt className="muted">{name}</dt>
              <dd className="min-w-0 break-words">{words}</dd>
            </div>
          ))}
      </dl>
      <section aria-label="Rules of the standard">
        {unit.findings.length === 0 ? (
          <p>It keeps the rules of the standard that are checked here.</p>
        ) : (
          <>
            <h3 className="font-semibold">What looks wrong ({unit.findings.length})</h3>
            <ul className="max-h-40 overflow-y-auto" data-testid="foreign-unit-findings">
              {unit.findings.map((finding, i) => (
                <li key={i} className="py-0.5">
                  <span className="muted">clause {finding.clause}:</span> {finding.text}
                </li>
              ))}
            </ul>
          </>
        )}
      </section>
      <ForeignPart view={view} edits={edits} page={unit} onPlace={onPlace} />
      <ExchangeUnit view={view} edits={edits} unit={number} />
      <section className="flex flex-col gap-2" aria-label="A run of it alone">
        <div className="flex items-center gap-3">
          <h3 className="font-semibold">A run of it alone</h3>
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => tryIt.mutate()}
            disabled={!unit.unit.allowed || trying || tryIt.isPending}
            title={unit.unit.allowed ? "" : "It may not run yet"}
            data-testid="foreign-unit-try"
          >
            <Play size={13} /> Try it
          </button>
          {trying && <progress className="progress w-40" aria-label="It runs" />}
        </div>
        {unit.trial.state === "failed" && (
          <p className="text-error" data-testid="foreign-unit-failed">
            {unit.trial.reason}
          </p>
        )}
        {unit.trial.state === "done" && (
          <Suspense fallback={<p className="muted">Drawing…</p>}>
            <TrialPicture trial={unit.trial} />
          </Suspense>
        )}
      </section>
      <footer className="flex items-center gap-3">
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          onClick={() => remove.mutate()}
          disabled={remove.isPending}
          data-testid="foreign-unit-delete"
        >
          <Trash2 size={14} /> Delete the file from the project
        </button>
        {fault && <span className="text-error">{asRefusal(fault).sentence}</span>}
      </footer>
    </div>
  );
}
