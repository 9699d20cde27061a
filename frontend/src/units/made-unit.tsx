import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Download, Trash2 } from "lucide-react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { ago } from "../ui/format";
import { kindWords, platformWords, sizeWords, type UnitView } from "./choices";

interface Props {
  view: ModelView;
  unit: UnitView;
  onGone: () => void;
}

/** A unit that was ordered: what is in it, what is to be said about it, and its file. */
export function MadeUnit({ view, unit, onGone }: Props) {
  const cache = useQueryClient();
  const remove = useMutation({
    mutationFn: () =>
      ask(client.DELETE("/api/model-units/{unit}", { params: { path: { unit: unit.id } } })),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: ["units", view.project, view.model] });
      onGone();
    },
  });
  const { choices, summary } = unit;
  const working = unit.state === "waiting" || unit.state === "running";
  const rig = choices.ssp !== "";
  const lines: [string, string][] = [
    ["kind", kindWords(choices)],
    [
      "solver inside",
      view.rig
        ? "couples the units that it contains"
        : choices.interfaces.includes("cs")
          ? choices.solver === "fixed"
            ? `fixed steps of ${choices.step} s`
            : "variable steps, stiff"
          : "none",
    ],
    [
      "others see",
      choices.sealed
        ? "inputs, outputs and visible parameters (sealed)"
        : view.rig
          ? "signals between its units, too"
          : "everything, sources too",
    ],
    ["compiled for", choices.platforms?.map(platformWords).join(", ") ?? "this machine"],
  ];
  if (choices.scenario !== "base") lines.push(["values of", choices.scenario ?? ""]);
  if (choices.parameters) lines.push(["can be set", choices.parameters.join(", ") || "nothing"]);
  if (choices.outputs.length > 0) lines.push(["outputs besides", choices.outputs.join(", ")]);
  if (rig) lines.splice(1, lines.length, ["holds", "the structure, all units, and their values"]);
  if (unit.state === "done" && rig) lines.push(["connections", String(summary.outputs)]);
  else if (unit.state === "done")
    lines.push(
      ["inputs", String(summary.inputs)],
      ["outputs", String(summary.outputs)],
      ["parameters", String(summary.parameters)],
      ["states", String(summary.states)],
      ["variables in all", String(summary.variables)],
    );
  return (
    <div className="flex max-w-3xl flex-col gap-3 p-4" data-testid="unit-made">
      <h2 className="font-semibold">{unit.name}</h2>
      <p role="status" data-testid="unit-state">
        {unit.state === "done" && `Made ${ago(unit.created)}, ${sizeWords(unit.size)}.`}
        {working &&
          "The unit is being compiled; this takes some seconds, for large models a minute."}
        {unit.state === "failed" && <span className="text-error">{unit.reason}</span>}
      </p>
      {working && <progress className="progress w-80" aria-label="Compiling" />}
      {unit.notes.map((note) => (
        <p key={note} className="max-w-prose">
          Note: {note}
        </p>
      ))}
      <dl className="grid w-fit grid-cols-[auto_auto] gap-x-6 gap-y-1">
        {lines.map(([name, words]) => (
          <div key={name} className="contents">
            <dt className="muted">{name}</dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
      <div className="flex items-center gap-2">
        {unit.state === "done" && (
          <a
            className="btn btn-primary btn-sm"
            href={`/api/model-units/${unit.id}/file`}
            download
            data-testid="unit-download"
          >
            <Download size={14} /> Download {unit.name}
          </a>
        )}
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          onClick={() => remove.mutate()}
          disabled={remove.isPending}
          data-testid="unit-delete"
        >
          <Trash2 size={14} /> Delete
        </button>
        {remove.error && <span className="text-error">{asRefusal(remove.error).sentence}</span>}
      </div>
      {unit.state === "done" && rig && (
        <p className="muted max-w-prose text-[12px]">
          On the command line <span className="mono">movrel rig run {unit.name}</span> runs it, and{" "}
          <span className="mono">movrel rig check {unit.name}</span> tells whether its step is small
          enough.
        </p>
      )}
      {unit.state === "done" && !rig && (
        <p className="muted max-w-prose text-[12px]">
          On the command line <span className="mono">movrel fmu info {unit.name}</span> tells what
          is inside, and <span className="mono">movrel fmu run {unit.name}</span> runs it by itself.
        </p>
      )}
    </div>
  );
}
