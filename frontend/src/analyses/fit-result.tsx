import { useMutation, useQueryClient } from "@tanstack/react-query";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { keys } from "../api/queries";
import { freeName } from "../state/scenarios";
import { usePlace } from "../state/place";
import type { Edits } from "../state/use-edits";
import { formatNumber, formatUnit } from "../ui/format";
import { Part } from "../units/form";
import { FitIntervals } from "./fit-intervals";
import { MemoryPlot } from "./memory-plot";
import { Plot } from "./plot";
import type { FitResult, FittedOutput } from "./types";

interface Props {
  view: ModelView;
  edits: Edits;
  /** The analysis. */
  number: number;
  result: FitResult;
}

/** A fitted value as it is written into a model. */
function typedValue({ value, unit }: { value: number; unit: string }): string {
  return `${Number(value.toPrecision(8))} ${unit}`.trim();
}

/** What a fit found: values with their intervals, what the data cannot tell, predicted beside measured. */
export function FitOutcome({ view, edits, number, result }: Props) {
  const cache = useQueryClient();
  const setScenario = usePlace((s) => s.setScenario);
  const shared = result.parameters.filter((p) => !p.experiment && !p.name.startsWith("offset("));
  const make = useMutation({
    mutationFn: async () => {
      const name = freeName(view, "fitted");
      await edits.mutateAsync({ do: "add scenario", name, like: "base" });
      for (const p of shared)
        await edits.mutateAsync({
          do: "scenario value",
          scenario: name,
          place: p.name,
          text: typedValue(p),
        });
      return name;
    },
    onSuccess: (name) => setScenario(name),
  });
  const write = useMutation({
    mutationFn: async () => {
      for (const p of shared)
        await edits.mutateAsync({
          do: "parameter",
          name: p.name,
          text: typedValue(p),
        });
    },
  });
  const sweep = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/api/analyses/{analysis}/sweeps", {
          params: { path: { analysis: number } },
          body: { count: 200, seed: 1 },
        }),
      ),
    onSuccess: () => cache.invalidateQueries({ queryKey: keys.sweeps(view.project, view.model) }),
  });
  return (
    <div className="flex flex-col gap-4">
      <table className="w-fit" data-testid="fit-parameters">
        <thead>
          <tr className="muted text-left text-[12px]">
            <th className="pr-4 font-normal">parameter</th>
            <th className="pr-4 font-normal">value</th>
            <th className="pr-4 font-normal">95 % interval</th>
            <th className="pr-4 font-normal">deviation</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {result.parameters.map((p) => (
            <tr key={`${p.name} ${p.experiment}`} data-testid={`fitted-${p.name}`}>
              <td className="mono pr-4">
                {p.name} {p.experiment && <span className="muted">{p.experiment}</span>}
              </td>
              <td className="mono pr-4 text-right">
                {formatNumber(p.value)} <span className="muted">{formatUnit(p.unit)}</span>
              </td>
              <td className="mono pr-4">
                {formatNumber(p.low)} to {formatNumber(p.high)}
              </td>
              <td className="mono pr-4">{formatNumber(p.deviation, 3)}</td>
              <td className="text-error">{p.at_bound && `at its ${p.at_bound} bound`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {[...result.undetermined, ...result.notes].map((words) => (
        <p key={words} className={result.undetermined.includes(words) ? "text-error" : "muted"}>
          {words}
        </p>
      ))}
      <p className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={make.isPending || shared.length === 0}
          onClick={() => make.mutate()}
          data-testid="fit-scenario"
        >
          Make it a scenario
        </button>
        <button
          type="button"
          className="btn btn-sm"
          disabled={sweep.isPending || shared.length === 0}
          onClick={() => sweep.mutate()}
          title="200 runs with values drawn as the fit leaves them uncertain: bands about the curves"
          data-testid="fit-sweep"
        >
          Bands of the curves
        </button>
        <button
          type="button"
          className="btn btn-sm"
          disabled={write.isPending || shared.length === 0}
          onClick={() => write.mutate()}
          title="The text of the model gets the values; Undo takes them back"
          data-testid="fit-write"
        >
          Write into the model
        </button>
        {write.isSuccess && <span>The model has these values now.</span>}
        {write.error && <span className="text-error">✕ {asRefusal(write.error).sentence}</span>}
        {sweep.isSuccess && <span>{sweep.data.name} under Sweeps.</span>}
        {sweep.error && <span className="text-error">✕ {asRefusal(sweep.error).sentence}</span>}
        {make.isSuccess && <span>The scenario {make.data} has these values; Run shows it.</span>}
        {make.error && <span className="text-error">✕ {asRefusal(make.error).sentence}</span>}
        <span className="muted">
          {result.runs} runs in {formatNumber(result.seconds, 3)} s.
          {!write.isSuccess && " The model keeps its values."}
        </span>
      </p>
      {result.outputs.map((o) => (
        <Compared key={`${o.experiment} ${o.variable}`} output={o} />
      ))}
      <FitIntervals view={view} number={number} result={result} />
      {result.parameters.length > 1 && (
        <Part title="Correlation">
          <table className="mono w-fit">
            <tbody>
              {result.correlation.map((row, i) => (
                <tr key={i}>
                  <th className="pr-3 text-left font-normal">{result.parameters[i]!.name}</th>
                  {row.map((v, j) => (
                    <td
                      key={j}
                      className={`px-2 text-right ${i !== j && Math.abs(v) > 0.95 ? "text-error" : ""}`}
                    >
                      {v.toFixed(2)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </Part>
      )}
    </div>
  );
}

function Compared({ output }: { output: FittedOutput }) {
  const unit = formatUnit(output.unit);
  const errorUnit = formatUnit(output.error_unit);
  const rows: [string, (f: FittedOutput["figures_after"]) => string][] = [
    ["root mean square error", (f) => `${formatNumber(f.rmse, 4)} ${errorUnit}`],
    ["mean absolute error", (f) => `${formatNumber(f.mean_absolute, 4)} ${errorUnit}`],
    [
      "bias",
      (f) => `${formatNumber(Math.abs(f.bias) < 1e-9 * f.rmse ? 0 : f.bias, 3)} ${errorUnit}`,
    ],
    ["fit", (f) => `${formatNumber(f.fit, 4)} %`],
    ["R²", (f) => formatNumber(f.r2, 5)],
  ];
  const held = output.figures_held_back;
  const residual = output.after.map((v, i) => v - output.measured[i]!);
  return (
    <Part title={`${output.variable}, ${output.experiment}`}>
      <div className="flex flex-wrap gap-6">
        <div>
          <Plot
            label={`${output.variable} measured, before and after`}
            xWords="time in s"
            yWords={`${output.variable}${unit ? ` in ${unit}` : ""}`}
            lines={[
              {
                name: "measured",
                x: output.time,
                y: output.measured,
                colour: "var(--color-secondary)",
                dots: true,
              },
              {
                name: "before",
                x: output.time,
                y: output.before,
                colour: "var(--run-1)",
                dash: "5 4",
              },
              { name: "fitted", x: output.time, y: output.after, colour: "var(--run-0)" },
            ]}
          />
          <Plot
            label={`residual of ${output.variable}`}
            height={110}
            xWords="time in s"
            yWords={`residual${errorUnit ? ` in ${errorUnit}` : ""}`}
            lines={[{ name: "residual", x: output.time, y: residual, colour: "var(--run-0)" }]}
          />
          <MemoryPlot
            variable={output.variable}
            series={[{ name: "fitted", colour: "var(--run-0)", figures: output.figures_after }]}
          />
        </div>
        <table className="h-fit w-fit">
          <thead>
            <tr className="muted text-left text-[12px]">
              <th />
              <th className="px-2 font-normal">before</th>
              <th className="px-2 font-normal">fitted</th>
              {held && <th className="px-2 font-normal">held back</th>}
            </tr>
          </thead>
          <tbody>
            {rows.map(([words, of]) => (
              <tr key={words}>
                <td>{words}</td>
                <td className="mono px-2 text-right">{of(output.figures_before)}</td>
                <td className="mono px-2 text-right">{of(output.figures_after)}</td>
                {held && <td className="mono px-2 text-right">{of(held)}</td>}
              </tr>
            ))}
            <tr>
              <td>residual</td>
              <td />
              <td className="px-2">{output.white ? "like noise" : "not like noise"}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </Part>
  );
}
