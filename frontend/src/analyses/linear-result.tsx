import { useState } from "react";

import { counted, formatNumber, formatTime, formatUnit, withUnit } from "../ui/format";
import type { Edits } from "../state/use-edits";
import { Part } from "../units/form";
import { Plot } from "./plot";
import { RootLocus } from "./root-locus";
import { Steps } from "./steps";
import { passes, polynomial, type LinearResult, type Pair } from "./types";

interface Props {
  /** The analysis. */
  number: number;
  edits: Edits;
  result: LinearResult;
  onPlace: () => { x: number; y: number };
}

/** Poles with the states that take part, and the way from each input to each output. */
export function LinearOutcome({ number, edits, result, onPlace }: Props) {
  const [chosen, setChosen] = useState(0);
  const { model } = result;
  const pair = result.pairs[Math.min(chosen, result.pairs.length - 1)];
  return (
    <div className="flex flex-col gap-4">
      <p>
        {counted(model.states.length, "state")} about {formatTime(model.time)}; it is{" "}
        {result.stable ? "stable" : "not stable"}; the inputs move {result.controllable} of them,
        the outputs see {result.observable}.
      </p>
      {model.notes.map((note) => (
        <p key={note} className="muted">
          {note}
        </p>
      ))}
      {Object.keys(result.trimmed).length > 0 && (
        <p data-testid="linear-found">
          Found:{" "}
          {Object.entries(result.trimmed)
            .map(([name, v]) => `${name} = ${withUnit(v, model.units[name] ?? "")}`)
            .join(", ")}
        </p>
      )}
      <Point result={result} />
      <Part title="Poles">
        <table className="w-fit" data-testid="poles">
          <thead>
            <tr className="muted text-left text-[12px]">
              <th className="pr-4 font-normal">pole in rad/s</th>
              <th className="pr-4 font-normal">natural frequency</th>
              <th className="pr-4 font-normal">damping ratio</th>
              <th className="pr-4 font-normal">time constant</th>
              <th className="font-normal">states that take part</th>
            </tr>
          </thead>
          <tbody>
            {result.modes.map((m, k) => (
              <tr key={k} className="align-baseline" data-testid="pole">
                <td className={`mono pr-4 ${m.real > 0 ? "text-error" : ""}`}>
                  {formatNumber(m.real)}
                  {m.imaginary !== 0 && ` ± ${formatNumber(m.imaginary)}j`}
                </td>
                <td className="mono pr-4">
                  {m.imaginary !== 0 &&
                    `${formatNumber(m.frequency)} rad/s, ${formatNumber(m.frequency / 2 / Math.PI, 4)} Hz`}
                </td>
                <td className="mono pr-4">{m.imaginary !== 0 && formatNumber(m.damping, 3)}</td>
                <td className="mono pr-4">
                  {m.time_constant !== null &&
                    `${m.time_constant < 0 ? "grows in " : ""}${formatTime(Number(Math.abs(m.time_constant).toPrecision(5)))}`}
                </td>
                <td>
                  {Object.entries(m.states)
                    .slice(0, 5)
                    .map(([name, share]) => `${name} ${Math.round(100 * share)} %`)
                    .join(", ")}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Part>
      {result.pairs.length > 0 && (
        <Part title="From input to output">
          <select
            className="select select-sm w-96"
            aria-label="input and output"
            value={chosen}
            onChange={(event) => setChosen(Number(event.target.value))}
            data-testid="linear-pair"
          >
            {result.pairs.map((p, k) => (
              <option key={k} value={k}>
                {p.input} → {p.output}
              </option>
            ))}
          </select>
          {pair && <Way pair={pair} units={model.units} />}
        </Part>
      )}
      <p className="flex gap-3">
        <span className="flex items-center gap-2">
          Matrices as
          {["CSV", "JSON", "npz"].map((form) => (
            <a
              key={form}
              className="btn btn-sm"
              href={`/api/analyses/${number}/matrices.${form.toLowerCase()}`}
              download
              data-testid={`linear-${form.toLowerCase()}`}
            >
              {form === "npz" ? "NumPy archive" : form}
            </a>
          ))}
        </span>
        {result.pairs.length > 0 && (
          <button
            type="button"
            className="btn btn-sm"
            disabled={edits.isPending}
            onClick={() =>
              edits.mutate({ do: "component", text: result.component, replaces: "", ...onPlace() })
            }
            data-testid="linear-component"
          >
            Put it on the sheet as a component
          </button>
        )}
      </p>
    </div>
  );
}

/** The operating point, and what each state still changes by there. */
function Point({ result }: { result: LinearResult }) {
  const { states, operating_point, rates, units } = result.model;
  const largest = Math.max(0, ...states.map((name) => Math.abs(rates[name] ?? 0)));
  return (
    <details data-testid="linear-point">
      <summary className="cursor-pointer">
        Operating point; the states change by at most {formatNumber(largest, 3)} per second in their
        units
      </summary>
      <table className="mt-1 ml-4 w-fit text-[12px]">
        <thead>
          <tr className="muted text-left">
            <th className="pr-4 font-normal">state</th>
            <th className="pr-4 font-normal">value</th>
            <th className="font-normal">still changes by</th>
          </tr>
        </thead>
        <tbody>
          {states.map((name) => (
            <tr key={name}>
              <td className="mono pr-4">{name}</td>
              <td className="mono pr-4">
                {withUnit(operating_point[name] ?? 0, units[name] ?? "")}
              </td>
              <td className="mono">
                {formatNumber(rates[name] ?? 0, 3)}{" "}
                {units[name] ? `${formatUnit(units[name])}/s` : "1/s"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

function Way({ pair, units }: { pair: Pair; units: Record<string, string> }) {
  const unit = formatUnit(units[pair.output] ?? "");
  const { margins } = pair;
  if (!passes(pair))
    return <p data-testid="nothing-passes">Nothing of the input reaches the output there.</p>;
  return (
    <div className="flex flex-col gap-2">
      <p className="mono">
        ({polynomial(pair.numerator)}) / ({polynomial(pair.denominator)})
      </p>
      <p>
        stationary gain {pair.gain === null ? "without limit" : formatNumber(pair.gain)}
        {pair.zeros.length > 0 &&
          `, zeros ${pair.zeros.map(([re, im]) => `${formatNumber(re, 4)}${im ? ` ${im > 0 ? "+" : "−"} ${formatNumber(Math.abs(im), 4)}j` : ""}`).join(", ")}`}
        {margins?.phase !== null &&
          margins?.phase !== undefined &&
          `; closed with a minus: phase margin ${formatNumber(margins.phase, 4)}° at ${formatNumber(margins.phase_at, 4)} rad/s`}
        {margins?.gain !== null &&
          margins?.gain !== undefined &&
          `, gain margin ${formatNumber(margins.gain, 4)} at ${formatNumber(margins.gain_at, 4)} rad/s`}
      </p>
      {[
        { name: "size", unit: "dB", y: pair.size },
        { name: "phase", unit: "°", y: pair.phase },
      ].map(({ name, unit: own, y }) => (
        <Plot
          key={name}
          label={`${name} of the frequency response`}
          logarithmic
          xWords="angular frequency in rad/s"
          yWords={`${name} in ${own}`}
          lines={[{ name, x: pair.frequency, y, colour: "var(--run-0)" }]}
        />
      ))}
      <Plot
        label="locus of the frequency response"
        xWords="real part"
        yWords="imaginary part"
        height={240}
        width={420}
        lines={[{ name: "locus", x: pair.real, y: pair.imaginary, colour: "var(--run-0)" }]}
      />
      {pair.locus && (
        <RootLocus key={`${pair.input} ${pair.output}`} pair={pair} locus={pair.locus} />
      )}
      {pair.time.length > 0 && (
        <Steps pair={pair} unit={unit} inputUnit={formatUnit(units[pair.input] ?? "")} />
      )}
    </div>
  );
}
