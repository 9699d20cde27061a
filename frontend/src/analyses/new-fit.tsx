import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { usePlace } from "../state/place";
import { formatNumber, formatUnit } from "../ui/format";
import { Part } from "../units/form";
import { askedOf, NO_EXPERIMENT } from "./experiment";
import { ExperimentFields } from "./experiment-fields";
import { searchAsked, USUAL_SEARCH, wrongIn } from "./search";
import { SearchFields } from "./search-fields";
import { numberOf } from "./types";

interface Props {
  view: ModelView;
  onOrdered: (id: number) => void;
}

interface Wanted {
  name: string;
  low: string;
  start: string;
  high: string;
  log: boolean;
  each: boolean;
}

const EMPTY: Wanted = { name: "", low: "", start: "", high: "", log: false, each: false };

/** What a fit is to find, and by which measurements. */
export function NewFit({ view, onOrdered }: Props) {
  const scenario = usePlace((s) => s.scenario);
  const [experiments, setExperiments] = useState([NO_EXPERIMENT]);
  const asked = experiments.flatMap((e) => askedOf(e) ?? []);
  const complete = asked.length === experiments.length;
  const outputs = [...new Set(asked.flatMap((e) => Object.values(e.outputs)))];
  const [free, setFree] = useState<Wanted[]>([EMPTY]);
  const [search, setSearch] = useState(USUAL_SEARCH);
  const parameters = view.rows.filter((r) => r.group === "set" && typeof r.value === "number");
  const startPlaces = view.rows.filter((r) => r.group === "start").map((r) => r.name);
  const order = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/fits", {
          params: { path: { project: view.project, model: view.model } },
          body: {
            scenario,
            ...searchAsked(search, outputs),
            experiments: asked,
            free: free
              .filter((f) => f.name.trim())
              .map((f) => ({
                name: f.name.trim(),
                low: numberOf(f.low) ?? NaN,
                start: numberOf(f.start) ?? NaN,
                high: numberOf(f.high) ?? NaN,
                scale: f.log ? "log" : "linear",
                each: f.each && experiments.length > 1,
              })),
          },
        }),
      ),
    onSuccess: (made) => onOrdered(made.id),
  });
  const change = (k: number, part: Partial<Wanted>) =>
    setFree(free.map((f, i) => (i === k ? { ...f, ...part } : f)));
  /** A chosen parameter begins at its value, within a fifth and five times of it. */
  const choose = (k: number, name: string) => {
    const row = view.rows.find((r) => r.name === name);
    const value = typeof row?.value === "number" ? row.value : null;
    if (value === null || free[k]!.start) return change(k, { name });
    const ends = value === 0 ? [-1, 1] : [value / 5, value * 5].sort((a, b) => a - b);
    change(k, {
      name,
      low: formatNumber(ends[0]),
      start: formatNumber(value),
      high: formatNumber(ends[1]),
    });
    if (k === free.length - 1) setFree((now) => [...now, EMPTY]);
  };
  const wanted = free.filter((f) => f.name.trim());
  const typed = wanted.every((f) => [f.low, f.start, f.high].every((t) => numberOf(t) !== null));
  const wrong = wrongIn(search);
  return (
    <form
      className="flex max-w-4xl flex-col gap-4 p-4"
      data-testid="fit-form"
      onSubmit={(event) => {
        event.preventDefault();
        order.mutate();
      }}
    >
      <h2 className="font-semibold">Find parameters by measurements</h2>
      {experiments.map((e, k) => (
        <Part key={k} title={k ? `Measurements, experiment ${k + 1}` : "Measurements"}>
          <ExperimentFields
            view={view}
            experiment={e}
            onChange={(changed) =>
              setExperiments(experiments.map((old, i) => (i === k ? changed : old)))
            }
          />
          {experiments.length > 1 && (
            <button
              type="button"
              className="btn btn-ghost btn-xs w-fit"
              onClick={() => setExperiments(experiments.filter((_, i) => i !== k))}
            >
              Leave this experiment out
            </button>
          )}
        </Part>
      ))}
      {complete && (
        <button
          type="button"
          className="btn btn-ghost btn-xs w-fit"
          onClick={() => setExperiments([...experiments, NO_EXPERIMENT])}
          data-testid="one-more-experiment"
        >
          + one more experiment with the same parameters
        </button>
      )}
      <datalist id="fit-parameters">
        {[...parameters.map((r) => r.name), ...startPlaces].slice(0, 3000).map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <Part title="To be found">
        <table className="w-fit">
          <thead>
            <tr className="muted text-left text-[12px]">
              <th className="font-normal">parameter or start value</th>
              <th className="font-normal">at least</th>
              <th className="font-normal">begins at</th>
              <th className="font-normal">at most</th>
              <th className="font-normal">log</th>
              {experiments.length > 1 && <th className="pl-2 font-normal">own in each</th>}
            </tr>
          </thead>
          <tbody>
            {free.map((f, k) => (
              <tr key={k}>
                <td className="pr-2">
                  <input
                    className="input input-xs mono w-52"
                    list="fit-parameters"
                    aria-label={`parameter ${k + 1}`}
                    value={f.name}
                    onChange={(event) => choose(k, event.target.value)}
                    data-testid={`free-${k}`}
                  />
                </td>
                {(["low", "start", "high"] as const).map((key) => (
                  <td key={key} className="pr-2">
                    <input
                      className="input input-xs mono w-22 text-right"
                      aria-label={`${key} of parameter ${k + 1}`}
                      value={f[key]}
                      onChange={(event) => change(k, { [key]: event.target.value })}
                      data-testid={`free-${k}-${key}`}
                    />
                  </td>
                ))}
                <td className="text-center">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    aria-label={`parameter ${k + 1} on a logarithmic scale`}
                    checked={f.log}
                    onChange={() => change(k, { log: !f.log })}
                  />
                </td>
                {experiments.length > 1 && (
                  <td className="text-center">
                    <input
                      type="checkbox"
                      className="checkbox checkbox-xs"
                      aria-label={`parameter ${k + 1} has its own value in each experiment`}
                      checked={f.each}
                      onChange={() => change(k, { each: !f.each })}
                    />
                  </td>
                )}
                <td className="muted pl-2">
                  {formatUnit(view.rows.find((r) => r.name === f.name)?.unit ?? "")}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <button
          type="button"
          className="btn btn-ghost btn-xs w-fit"
          onClick={() => setFree([...free, EMPTY])}
        >
          + one more
        </button>
      </Part>
      <SearchFields view={view} outputs={outputs} search={search} onChange={setSearch} />
      <p className="flex items-center gap-3">
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={!complete || wanted.length === 0 || !typed || wrong !== "" || order.isPending}
          data-testid="fit"
        >
          Fit
        </button>
        {!complete && <span className="muted">Say which column is which variable.</span>}
        {complete && (wanted.length === 0 || !typed) && (
          <span className="muted">Choose what is to be found, with its bounds.</span>
        )}
        {complete && wrong && <span className="text-error">✕ {wrong}</span>}
        {order.error && (
          <span role="alert" className="text-error" data-testid="fit-refusal">
            ✕ {asRefusal(order.error).sentence}
          </span>
        )}
      </p>
    </form>
  );
}
