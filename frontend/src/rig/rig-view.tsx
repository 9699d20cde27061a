import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";

import { ask, asRefusal, client, type ModelView, type RunView } from "../api/client";
import { usePlace } from "../state/place";
import type { Edits } from "../state/use-edits";
import { counted } from "../ui/format";
import { Part } from "../units/form";
import { CouplingForm } from "./coupling-form";
import { OpenInputs } from "./open-inputs";
import { Signals } from "./signals";
import { StepCheckLine } from "./step-check";
import { useRig, type RigView as Rig } from "./use-rig";
import { useStepCheck } from "./use-step-check";

interface Props {
  view: ModelView;
  edits: Edits;
  runs: RunView[];
}

/** A model as a rig of coupled units: how they are coupled, which there are, and the signals between them. */
export default function RigView({ view, edits, runs }: Props) {
  const { data: rig, error } = useRig(view);
  const newest = useMemo(
    () => runs.find((r) => r.model === view.model && r.state === "done"),
    [runs, view.model],
  );
  const check = useStepCheck(newest, runs);
  if (error) return <p className="p-4 text-error">✕ {asRefusal(error).sentence}</p>;
  if (!rig) return <p className="muted p-4">Looking for the units…</p>;
  const { settings } = rig;
  return (
    <div className="h-full overflow-auto bg-base-100 p-4" data-testid="rig-view">
      <div className="flex max-w-4xl flex-col gap-5">
        {rig.problem && (
          <p role="alert" className="text-error" data-testid="rig-problem">
            ✕ {rig.problem.message} {rig.problem.hint}
          </p>
        )}
        {settings ? (
          <>
            <Part title="Coupling">
              <CouplingForm settings={settings} edits={edits} />
              <div className="mt-2 flex flex-col gap-2">
                <StepCheckLine check={check} canCheck={newest !== undefined && !rig.problem} />
                <p className="flex gap-3">
                  <button
                    type="button"
                    className="btn btn-sm"
                    onClick={() => edits.mutate({ do: "one model" })}
                    title="All parts are solved together from now on, without communication steps"
                    data-testid="one-model"
                  >
                    Compute as one model
                  </button>
                  <Deliver view={view} />
                </p>
              </div>
            </Part>
          </>
        ) : (
          <Begin rig={rig} edits={edits} />
        )}
        <Part title={`Units (${rig.units.length})`}>
          <Units rig={rig} edits={edits} />
        </Part>
        <Part title="Signals">
          <Signals
            signals={rig.signals}
            wires={view.sheet.connections}
            onBundle={(wires, cable) =>
              edits.mutate({
                do: "bundle",
                wires: wires.map(({ from, to }) => ({ from, to })),
                cable,
              })
            }
            differences={check.differences}
            onCut={(s) =>
              edits.mutate({
                do: "delete",
                wires: [{ from: s.source, to: s.target }],
              })
            }
          />
          {rig.power.length > 0 && (
            <p className="muted pt-1">
              Power flows at {rig.power.join(", ")}; what the coupling adds or takes is among the
              messages of a run.
            </p>
          )}
        </Part>
        <Part title="Open inputs">
          <OpenInputs
            view={view}
            edits={edits}
            inputs={rig.open_inputs}
            proposals={rig.proposals}
          />
        </Part>
      </div>
    </div>
  );
}

function Begin({ rig, edits }: { rig: Rig; edits: Edits }) {
  return (
    <Part title="Coupling">
      <p className="max-w-2xl">
        This model is computed as one: all equations together. As a rig each unit below has its own
        solver and gets the signals of the others at communication points only, as separate programs
        do. Units of others (FMU) and own models go together.
      </p>
      <p>
        <button
          type="button"
          className="btn btn-primary btn-sm mt-1"
          disabled={edits.isPending || rig.units.length < 2}
          onClick={() => edits.mutate({ do: "couple", step: 0.01 })}
          data-testid="couple"
        >
          Couple {counted(rig.units.length, "unit")} every 10 ms
        </button>
        {rig.units.length < 2 && (
          <span className="muted ml-3">
            All parts are joined by physical wires; put parts with inputs and outputs on the sheet.
          </span>
        )}
      </p>
    </Part>
  );
}

function Units({ rig, edits }: { rig: Rig; edits: Edits }) {
  const { settings } = rig;
  return (
    <table className="w-full">
      <thead>
        <tr className="muted text-left text-[12px]">
          <th className="font-normal">unit</th>
          <th className="font-normal">computed as</th>
          <th className="font-normal">inputs</th>
          <th className="font-normal">outputs</th>
          {settings && <th className="font-normal">steps at once</th>}
        </tr>
      </thead>
      <tbody>
        {rig.units.map((unit) => (
          <tr key={unit.name} className="align-baseline" data-testid={`unit-${unit.name}`}>
            <td className="max-w-80 truncate pr-3" title={unit.name}>
              {unit.name}
            </td>
            <td className="pr-3">
              {unit.kind}
              {unit.file && <span className="muted"> {unit.file}</span>}
            </td>
            <td className="pr-3">{unit.inputs.length}</td>
            <td className="pr-3">{unit.outputs.length}</td>
            {settings && (
              <td>
                <input
                  type="number"
                  min={1}
                  max={10000}
                  className="input input-xs mono w-16"
                  aria-label={`communication steps that ${unit.name} takes at once`}
                  defaultValue={settings.multiples[unit.name] ?? 1}
                  onBlur={(event) => {
                    const many = Math.round(Number(event.target.value));
                    if (many >= 1 && many !== (settings.multiples[unit.name] ?? 1))
                      edits.mutate({
                        do: "couple",
                        ...settings,
                        multiples: { ...settings.multiples, [unit.name]: many },
                      });
                  }}
                />
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Having the rig written as an archive; it appears among the units that were made. */
function Deliver({ view }: { view: ModelView }) {
  const cache = useQueryClient();
  const setView = usePlace((s) => s.setView);
  const scenario = usePlace((s) => s.scenario);
  const order = useMutation({
    mutationFn: (ssp: "1.0" | "2.0" | "") =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/units", {
          params: { path: { project: view.project, model: view.model } },
          body: ssp ? { ssp, scenario } : { interfaces: ["cs"], scenario },
        }),
      ),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: ["units", view.project, view.model] });
      setView("units");
    },
  });
  return (
    <>
      {(["1.0", "2.0"] as const).map((version) => (
        <button
          key={version}
          type="button"
          className="btn btn-sm"
          disabled={order.isPending}
          onClick={() => order.mutate(version)}
          title="One archive with the structure, all units and their values"
          data-testid={`write-ssp-${version}`}
        >
          Write as SSP {version}
        </button>
      ))}
      <button
        type="button"
        className="btn btn-sm"
        disabled={order.isPending}
        onClick={() => order.mutate("")}
        title="One file (FMI 3.0) that contains all units and couples them; choices are on the page Units"
        data-testid="write-unit"
      >
        Make one unit
      </button>
      {order.error && <span className="text-error">✕ {asRefusal(order.error).sentence}</span>}
    </>
  );
}
