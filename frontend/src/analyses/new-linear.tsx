import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { usePlace } from "../state/place";
import { useTime } from "../state/time";
import { formatTime } from "../ui/format";
import { Choice, Part } from "../units/form";

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
  const [steady, setSteady] = useState(true);
  const watched = view.rows.filter((r) => r.group === "watch").map((r) => r.name);
  const settable = view.rows
    .filter((r) => r.group === "set" && typeof r.value === "number")
    .map((r) => r.name);
  const order = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/linear-models", {
          params: { path: { project: view.project, model: view.model } },
          body: { scenario, inputs, outputs, at: steady ? null : (cursor ?? 0) },
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
      <Names
        title="Inputs"
        words="what somebody could move: inputs of the model, or parameters such as the value of a constant"
        names={[...watched.filter((n) => !n.includes(".")), ...settable]}
        chosen={inputs}
        onChange={setInputs}
        testid="linear-input"
      />
      <Names
        title="Outputs"
        words="what is looked at"
        names={watched}
        chosen={outputs}
        onChange={setOutputs}
        testid="linear-output"
      />
      <Part title="Operating point">
        <Choice
          kind="radio"
          name="point"
          words="a steady state, which is looked for"
          checked={steady}
          onChange={() => setSteady(true)}
          testid="linear-steady"
        />
        <Choice
          kind="radio"
          name="point"
          words={`at the time cursor, ${formatTime(cursor ?? 0)}`}
          checked={!steady}
          onChange={() => setSteady(false)}
          testid="linear-at"
        />
      </Part>
      <p className="flex items-center gap-3">
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={outputs.length === 0 || order.isPending}
          data-testid="linearise"
        >
          Linearise
        </button>
        {outputs.length === 0 && <span className="muted">Choose at least one output.</span>}
        {order.error && (
          <span role="alert" className="text-error">
            ✕ {asRefusal(order.error).sentence}
          </span>
        )}
      </p>
    </form>
  );
}

function Names({
  title,
  words,
  names,
  chosen,
  onChange,
  testid,
}: {
  title: string;
  words: string;
  names: string[];
  chosen: string[];
  onChange: (chosen: string[]) => void;
  testid: string;
}) {
  const [typed, setTyped] = useState("");
  const add = (name: string) => {
    if (!names.includes(name) || chosen.includes(name)) return;
    onChange([...chosen, name]);
    setTyped("");
  };
  return (
    <Part title={title}>
      <p className="muted text-[12px]">{words}</p>
      <input
        className="input input-sm mono w-96"
        list={`${testid}-names`}
        placeholder="type a name, Enter adds it"
        aria-label={title}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          if (names.includes(event.target.value)) add(event.target.value);
        }}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          add(typed.trim());
        }}
        data-testid={testid}
      />
      <datalist id={`${testid}-names`}>
        {names.slice(0, 3000).map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <ul className="flex flex-wrap gap-1">
        {chosen.map((name) => (
          <li key={name} className="mono flex items-center gap-1 border border-base-300 px-1">
            {name}
            <button
              type="button"
              aria-label={`Take ${name} off`}
              onClick={() => onChange(chosen.filter((n) => n !== name))}
            >
              ✕
            </button>
          </li>
        ))}
      </ul>
    </Part>
  );
}
