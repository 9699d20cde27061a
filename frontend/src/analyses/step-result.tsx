import type { Edits } from "../state/use-edits";
import { formatNumber, formatTime, formatUnit, withIn } from "../ui/format";
import { Part } from "../units/form";
import { Plot } from "./plot";
import type { StepModel, StepResult } from "./types";

interface Props {
  edits: Edits;
  result: StepResult;
  onPlace: () => { x: number; y: number };
}

/** What a step test says: the models beside the response, and settings of a controller. */
export function StepOutcome({ edits, result, onPlace }: Props) {
  const best = result.models[0];
  const [above, below] = [result.response_unit, result.input_unit].map((u) => formatUnit(u) || "1");
  const rows: { words: string; name: string; zero?: boolean; of: (m: StepModel) => number }[] = [
    {
      words: `gain in ${above}/${/[/·]/.test(below!) ? `(${below})` : below}`,
      name: "gain",
      zero: true,
      of: (m) => m.gain,
    },
    { words: "time constant in s", name: "time_constant", of: (m) => m.time_constant },
    { words: "damping ratio", name: "damping", of: (m) => m.damping },
    { words: "dead time in s", name: "dead_time", zero: true, of: (m) => m.dead_time },
    {
      words: withIn("root mean square error", result.response_unit),
      name: "",
      zero: true,
      of: (m) => m.figures.rmse,
    },
    { words: "fit in %", name: "", zero: true, of: (m) => m.figures.fit },
  ];
  return (
    <div className="flex flex-col gap-4">
      {best && (
        <p>
          The likeliest is {best.kind} with {formatTime(Number(best.dead_time.toPrecision(4)))} of
          dead time.
        </p>
      )}
      {result.notes.map((note) => (
        <p key={note} className="muted">
          {note}
        </p>
      ))}
      <table className="w-fit" data-testid="step-models">
        <thead>
          <tr className="text-left">
            <th />
            {result.models.map((m) => (
              <th key={m.kind} className="pr-8 font-semibold">
                {m.kind}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.words} className="align-baseline">
              <td className="whitespace-nowrap pr-6">{row.words}</td>
              {result.models.map((m) => {
                const value = row.of(m);
                const range = row.name && value !== 0 ? m.intervals[row.name] : undefined;
                return (
                  <td key={m.kind} className="mono pr-8">
                    <span data-testid={`step-${m.kind.replace(" ", "-")}-${row.name}`}>
                      {(value !== 0 || row.zero) && formatNumber(value, 5)}
                    </span>
                    {range && (
                      <span className="muted block whitespace-nowrap text-[12px]">
                        {formatNumber(range[0], 4)} to {formatNumber(range[1], 4)}
                      </span>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="muted text-[12px]">Below the values: their 95 % intervals.</p>
      {result.models.flatMap((m) =>
        m.notes.map((note) => (
          <p key={m.kind + note} className="muted">
            {m.kind}: {note}
          </p>
        )),
      )}
      <Plot
        label={`${result.response} measured and as the models have it`}
        xWords="time in s"
        yWords={withIn(result.response, result.response_unit)}
        height={240}
        lines={[
          {
            name: "measured",
            x: result.time,
            y: result.measured,
            colour: "var(--color-secondary)",
            dots: true,
          },
          ...result.models.map((m, k) => ({
            name: m.kind,
            x: result.time,
            y: m.predicted,
            colour: `var(--run-${k})`,
            ...(k > 0 ? { dash: k === 1 ? "6 4" : "2 3" } : {}),
          })),
        ]}
      />
      <Plot
        label={`${result.input} as it was`}
        xWords="time in s"
        yWords={withIn(result.input, result.input_unit)}
        height={130}
        lines={[{ name: result.input, x: result.time, y: result.level, colour: "var(--run-3)" }]}
      />
      <Part title="Settings of a controller">
        <p className="muted max-w-2xl text-[12px]">
          After Skogestad (J. Process Control 13, 2003): the closed loop is made as fast as the dead
          time allows. For u = gain · (e + ∫e dt / integral time + derivative time · de/dt).
        </p>
        {result.models.map((m) => (
          <p key={m.kind} data-testid={`settings-${m.kind.replace(" ", "-")}`}>
            <span className="inline-block w-28">{m.kind}</span>
            {m.settings ? (
              <span className="mono">
                {m.settings.controller}: gain {formatNumber(m.settings.gain, 4)}, integral time{" "}
                {formatTime(Number(m.settings.integral_time.toPrecision(4)))}
                {m.settings.derivative_time > 0 &&
                  `, derivative time ${formatTime(Number(m.settings.derivative_time.toPrecision(4)))}`}
              </span>
            ) : (
              <span className="muted">{m.no_settings}</span>
            )}
          </p>
        ))}
      </Part>
      <p className="flex flex-wrap items-center gap-3">
        Put on the sheet as a component:
        {result.models.map((m) => (
          <button
            key={m.kind}
            type="button"
            className="btn btn-sm"
            disabled={edits.isPending}
            onClick={() =>
              edits.mutate({ do: "component", text: m.component, replaces: "", ...onPlace() })
            }
            data-testid={`component-${m.kind.replace(" ", "-")}`}
          >
            {m.kind}
          </button>
        ))}
      </p>
    </div>
  );
}
