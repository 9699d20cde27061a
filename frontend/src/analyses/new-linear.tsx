import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { usePlace } from "../state/place";
import { useTime } from "../state/time";
import { formatTime, formatUnit } from "../ui/format";
import { Choice, Part } from "../units/form";
import { NamesField } from "./names-field";
import { NO_REST, type Rest } from "./rest";
import { RestFields } from "./rest-fields";
import { numberOf } from "./types";

interface Props {
  view: ModelView;
  onOrdered: (id: number) => void;
}

/** Between which quantities a linear model is wanted, and about which point. */
export function NewLinear({ view, onOrdered }: Props) {
  const scenario = usePlace((s) => s.scenario);
  const cursor = useTime((s) => s.cursor);
  const [inputs, setInputs] = useState<string[]>([]);
  const [outputs, setOutputs] = useState<string[]>([]);
  const [where, setWhere] = useState<"steady" | "rest" | "cursor">("steady");
  const [rest, setRest] = useState<Rest>(NO_REST);
  const [opened, setOpened] = useState("");
  const [amplitudes, setAmplitudes] = useState<Record<string, string>>({});
  const watched = view.rows.filter((r) => r.group === "watch").map((r) => r.name);
  const settable = view.rows
    .filter((r) => r.group === "set" && typeof r.value === "number")
    .map((r) => r.name);
  const movable = [...watched.filter((n) => !n.includes(".")), ...settable];
  const signals = [...new Set(view.sheet.connections.flatMap((c) => [c.from, c.to]))];
  const units = new Map(view.rows.map((r) => [r.name, formatUnit(r.unit)]));
  const asked = where === "rest" ? rest : NO_REST;
  const unset = Object.entries(asked.held).filter(([, typed]) => typed.trim() === "");
  const wrong = inputs.filter((n) => amplitudes[n]?.trim() && numberOf(amplitudes[n]) === null);
  const missing =
    outputs.length === 0 && opened === ""
      ? "Choose at least one output, or a wire to open."
      : unset.length > 0
        ? `Give ${unset[0]![0]} a value.`
        : wrong.length > 0
          ? `The step of ${wrong[0]} is no number.`
          : "";
  const order = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/linear-models", {
          params: { path: { project: view.project, model: view.model } },
          body: {
            scenario,
            inputs,
            outputs,
            opened,
            at: where === "cursor" ? (cursor ?? 0) : null,
            ...asked,
            amplitudes: Object.fromEntries(
              inputs.flatMap((name) => {
                const value = numberOf(amplitudes[name] ?? "");
                return value === null ? [] : [[name, value]];
              }),
            ),
          },
        }),
      ),
    onSuccess: (made) => onOrdered(made.id),
  });
  return (
    <form
      className="flex max-w-3xl flex-col gap-4 p-4"
      data-testid="linear-form"
      onSubmit={(event) => {
        event.preventDefault();
        order.mutate();
      }}
    >
      <h2 className="font-semibold">Linear model about an operating point</h2>
      <Part title="Inputs">
        <NamesField
          title="Inputs"
          words="what somebody could move: inputs of the model, or parameters such as the value of a constant"
          names={movable}
          chosen={inputs}
          onChange={setInputs}
          testid="linear-input"
        />
        {opened === "" &&
          inputs.map((name) => (
            <label key={name} className="flex items-center gap-2">
              a step of <span className="mono">{name}</span> by
              <input
                className="input input-sm mono w-24"
                aria-label={`Step of ${name}`}
                placeholder="none"
                value={amplitudes[name] ?? ""}
                onChange={(event) => setAmplitudes({ ...amplitudes, [name]: event.target.value })}
                data-testid={`linear-step-${name}`}
              />
              <span className="muted">{units.get(name)} is made by the model itself, too</span>
            </label>
          ))}
      </Part>
      <Part title="Outputs">
        <NamesField
          title="Outputs"
          words="what is looked at"
          names={watched}
          chosen={outputs}
          onChange={setOutputs}
          testid="linear-output"
        />
      </Part>
      <Part title="Or a loop, opened at a wire">
        <p className="muted text-[12px]">
          the signal at one end of it, such as the output of a controller; margins and root locus
          are those of that loop
        </p>
        <input
          className="input input-sm mono w-96"
          list="linear-opened-names"
          aria-label="Wire at which the loop is opened"
          value={opened}
          onChange={(event) => setOpened(event.target.value.trim())}
          data-testid="linear-opened"
        />
        <datalist id="linear-opened-names">
          {signals.slice(0, 3000).map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
      </Part>
      <Part title="Operating point">
        <Choice
          kind="radio"
          name="point"
          words="a steady state, which is looked for"
          checked={where === "steady"}
          onChange={() => setWhere("steady")}
          testid="linear-steady"
        />
        <Choice
          kind="radio"
          name="point"
          words="at rest with given values"
          checked={where === "rest"}
          onChange={() => setWhere("rest")}
          testid="linear-at-rest"
        />
        {where === "rest" && (
          <RestFields
            rest={rest}
            onChange={setRest}
            variables={watched}
            settable={movable}
            units={units}
          />
        )}
        <Choice
          kind="radio"
          name="point"
          words={`at the time cursor, ${formatTime(cursor ?? 0)}`}
          checked={where === "cursor"}
          onChange={() => setWhere("cursor")}
          testid="linear-at"
        />
      </Part>
      <p className="flex items-center gap-3">
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={missing !== "" || order.isPending}
          data-testid="linearise"
        >
          Linearise
        </button>
        {missing !== "" && <span className="muted">{missing}</span>}
        {order.error && (
          <span role="alert" className="text-error">
            ✕ {asRefusal(order.error).sentence}
          </span>
        )}
      </p>
    </form>
  );
}
