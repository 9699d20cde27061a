import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { scenariosOf } from "../state/scenarios";
import { Choice, Part } from "../units/form";
import { renamed } from "./columns";
import { askedOf, NO_EXPERIMENT } from "./experiment";
import { ExperimentFields } from "./experiment-fields";

interface Props {
  view: ModelView;
  onOrdered: (id: number) => void;
}

/** Which models and scenarios are compared with which measurements. */
export function NewComparison({ view, onOrdered }: Props) {
  const [experiment, setExperiment] = useState(NO_EXPERIMENT);
  const asked = askedOf(experiment);
  const scenarios = scenariosOf(view).map((s) => s.name);
  const [left, setLeft] = useState<string[]>([]);
  const [others, setOthers] = useState("");
  const [names, setNames] = useState<Record<string, Record<string, string>>>({});
  const [fromSamples, setFromSamples] = useState(false);
  const otherModels = others.split(/[\s,;]+/).filter(Boolean);
  const compared = Object.values({ ...asked?.outputs, ...asked?.inputs });
  const candidates = [
    ...scenarios
      .filter((s) => !left.includes(s))
      .map((scenario) => ({ model: view.model, scenario, variables: {} })),
    ...otherModels.map((model) => ({
      model,
      scenario: "base",
      variables: renamed(names[model] ?? {}),
    })),
  ];
  const order = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/comparisons", {
          params: { path: { project: view.project, model: view.model } },
          body: { experiment: asked!, candidates, from_samples: fromSamples },
        }),
      ),
    onSuccess: (made) => onOrdered(made.id),
  });
  return (
    <form
      className="flex max-w-4xl flex-col gap-4 p-4"
      data-testid="comparison-form"
      onSubmit={(event) => {
        event.preventDefault();
        order.mutate();
      }}
    >
      <h2 className="font-semibold">Compare with measurements</h2>
      <p className="muted">
        Each runs with the measured inputs; the one that comes closest to the measured outputs is
        first.
      </p>
      <Part title="Measurements">
        <ExperimentFields view={view} experiment={experiment} onChange={setExperiment} />
      </Part>
      <Part title="Scenarios and models">
        {scenarios.map((name) => (
          <Choice
            key={name}
            kind="checkbox"
            words={name}
            checked={!left.includes(name)}
            onChange={() =>
              setLeft(left.includes(name) ? left.filter((n) => n !== name) : [...left, name])
            }
            testid={`candidate-${name}`}
          />
        ))}
        <label className="flex items-center gap-2">
          other models
          <input
            className="input input-xs mono w-96"
            placeholder="names with their packages, commas between"
            value={others}
            onChange={(event) => setOthers(event.target.value)}
            data-testid="candidate-others"
          />
        </label>
      </Part>
      {compared.length > 0 &&
        otherModels.map((model) => (
          <Part key={model} title={`Names in ${model}, where they differ`}>
            {compared.map((variable) => (
              <label key={variable} className="flex items-center gap-2">
                <span className="mono w-56 truncate" title={variable}>
                  {variable}
                </span>
                <input
                  className="input input-xs mono w-56"
                  placeholder={variable}
                  value={names[model]?.[variable] ?? ""}
                  onChange={(event) =>
                    setNames({
                      ...names,
                      [model]: { ...names[model], [variable]: event.target.value },
                    })
                  }
                  data-testid={`name-${model}-${variable}`}
                />
              </label>
            ))}
          </Part>
        ))}
      <Part title="Beginning">
        <Choice
          kind="checkbox"
          words="states that are measured begin at their first samples"
          checked={fromSamples}
          onChange={() => setFromSamples(!fromSamples)}
          testid="from-samples"
        />
      </Part>
      <p className="flex items-center gap-3">
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={!asked || candidates.length === 0 || order.isPending}
          data-testid="compare"
        >
          Compare
        </button>
        {!asked && <span className="muted">Say which column is which variable.</span>}
        {order.error && (
          <span role="alert" className="text-error" data-testid="comparison-refusal">
            ✕ {asRefusal(order.error).sentence}
          </span>
        )}
      </p>
    </form>
  );
}
