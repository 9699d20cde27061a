import type { ModelView } from "../api/client";
import { colourOf } from "../state/scenarios";
import { runColour } from "../state/shown-runs";
import { formatNumber, formatUnit } from "../ui/format";
import { Part } from "../units/form";
import { MemoryPlot } from "./memory-plot";
import { Plot } from "./plot";
import type { ComparisonResult } from "./types";

interface Props {
  view: ModelView;
  result: ComparisonResult;
}

/** Which model comes closest, and what each gives beside what was measured. */
export function ComparisonOutcome({ view, result }: Props) {
  const rank = new Map(result.ranking.map((r, k) => [r.name, k]));
  const colours = new Map(
    result.ranking.map((r, k) => [r.name, runColour(colourOf(view, { ...r, colour: k + 1 }))]),
  );
  return (
    <div className="flex flex-col gap-4">
      <table className="w-fit whitespace-nowrap" data-testid="ranking">
        <thead>
          <tr className="muted text-left text-[12px]">
            <th className="pr-3 font-normal" />
            <th className="pr-3 font-normal">model, scenario</th>
            <th className="pr-3 font-normal">variable</th>
            <th className="pr-3 font-normal">RMS error</th>
            <th className="pr-3 font-normal">mean absolute</th>
            <th className="pr-3 font-normal">bias</th>
            <th className="pr-3 font-normal">fit</th>
            <th className="pr-3 font-normal">R²</th>
            <th className="font-normal">residual is</th>
          </tr>
        </thead>
        <tbody>
          {result.ranking.map((r, k) =>
            r.failure ? (
              <tr key={r.name} data-testid={`rank-${k}`}>
                <td />
                <td className="pr-3">{r.name}</td>
                <td colSpan={7} className="whitespace-normal text-error">
                  ✕ {r.failure}
                </td>
              </tr>
            ) : (
              r.figures.map((f, i) => (
                <tr key={`${r.name} ${f.variable}`} data-testid={i ? undefined : `rank-${k}`}>
                  <td className="mono pr-3">{i === 0 && k + 1}</td>
                  <td className="max-w-52 min-w-40 pr-3 whitespace-normal">
                    {i === 0 && (
                      <span className="flex items-center gap-2">
                        <svg width="18" height="6" className="shrink-0" aria-hidden="true">
                          <line
                            x1="0"
                            x2="18"
                            y1="3"
                            y2="3"
                            stroke={colours.get(r.name)}
                            strokeWidth="2"
                          />
                        </svg>
                        {r.name}
                      </span>
                    )}
                  </td>
                  <td className="mono pr-3">{f.variable}</td>
                  <td className="mono pr-3 text-right">
                    {formatNumber(f.rmse, 4)} {formatUnit(f.unit)}
                  </td>
                  <td className="mono pr-3 text-right">
                    {formatNumber(f.mean_absolute, 4)} {formatUnit(f.unit)}
                  </td>
                  <td className="mono pr-3 text-right">
                    {formatNumber(f.bias, 3)} {formatUnit(f.unit)}
                  </td>
                  <td className="mono pr-3 text-right">{formatNumber(f.fit, 4)} %</td>
                  <td className="mono pr-3 text-right">{formatNumber(f.r2, 5)}</td>
                  <td>{f.white ? "noise" : "not noise"}</td>
                </tr>
              ))
            ),
          )}
        </tbody>
      </table>
      {result.notes.map((words) => (
        <p key={words} className="muted">
          {words}
        </p>
      ))}
      {result.outputs.map((o) => {
        const rivals = [...o.rivals].sort((a, b) => rank.get(a.name)! - rank.get(b.name)!);
        const lines = (of: (rival: (typeof rivals)[number]) => number[]) =>
          rivals.map((r) => ({
            name: r.name,
            x: o.time,
            y: of(r),
            colour: colours.get(r.name)!,
          }));
        const [unit, errorUnit] = [formatUnit(o.unit), formatUnit(o.error_unit)];
        return (
          <Part key={o.variable} title={o.variable}>
            <Plot
              label={`${o.variable} measured and predicted`}
              xWords="time in s"
              yWords={`${o.variable}${unit ? ` in ${unit}` : ""}`}
              lines={[
                {
                  name: "measured",
                  x: o.time,
                  y: o.measured,
                  colour: "var(--color-secondary)",
                  dots: true,
                },
                ...lines((r) => r.predicted),
              ]}
            />
            <Plot
              label={`residuals of ${o.variable}`}
              height={130}
              legend={false}
              xWords="time in s"
              yWords={`residual${errorUnit ? ` in ${errorUnit}` : ""}`}
              lines={lines((r) => r.predicted.map((v, i) => v - o.measured[i]!))}
            />
            <Plot
              label={`accumulated absolute error of ${o.variable}`}
              height={130}
              legend={false}
              xWords="time in s"
              yWords={`accumulated${errorUnit ? `, ${errorUnit}·s` : ""}`}
              lines={lines((r) => r.accumulated)}
            />
            <MemoryPlot
              variable={o.variable}
              series={result.ranking.flatMap((r) =>
                r.figures
                  .filter((f) => f.variable === o.variable)
                  .map((figures) => ({ name: r.name, colour: colours.get(r.name)!, figures })),
              )}
            />
          </Part>
        );
      })}
    </div>
  );
}
