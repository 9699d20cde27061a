import { useQueries } from "@tanstack/react-query";
import { Copy, X } from "lucide-react";

import { ask, client, type ModelView, type RunDetail } from "../api/client";
import { HowSure } from "../runs/how-sure";
import { formatTime, timeIn, withUnit } from "../ui/format";
import { CertainNumber } from "../ui/certain-number";
import { ColourDot } from "../ui/colour-dot";
import { colourOf } from "../state/scenarios";
import { useTime } from "../state/time";

interface Props {
  view: ModelView;
  runs: RunDetail[];
  names: string[];
  onClose: () => void;
}

/** Why there is no value, in a few words; the whole sentence stands behind it. */
function inShort(reason = ""): string {
  const [words, rest] = reason.split(":");
  return rest === undefined ? "–" : words!;
}

/** What can be read off the shown curves, over the whole run or between the marks A and B. */
export function Measures({ view, runs, names, onClose }: Props) {
  const { a, b } = useTime((s) => s.marks);
  const timeUnit = useTime((s) => s.unit);
  // From A on, or from A to B; the response to a step is counted from A, too.
  const low = a !== null && b !== null ? Math.min(a, b) : (a ?? undefined);
  const high = a !== null && b !== null ? Math.max(a, b) : undefined;
  const ended = runs.filter((run) => run.points > 0);
  const answers = useQueries({
    queries: ended.map((run) => ({
      queryKey: ["measures", run.id, run.points, run.checked_by, names.join(" "), low, high],
      queryFn: () => {
        const known = new Set(run.variables.map((v) => v.name));
        const body = {
          names: names.filter((n) => known.has(n)),
          ...(low === undefined ? {} : { low }),
          ...(high === undefined ? {} : { high }),
        };
        return ask(
          client.POST("/api/runs/{run}/measures", { params: { path: { run: run.id } }, body }),
        );
      },
      staleTime: Infinity,
    })),
  });
  const columns = answers.flatMap((answer, i) =>
    (answer.data?.curves ?? []).map((curve) => ({ run: ended[i]!, curve })),
  );
  const rows = columns[0]?.curve.measures.map((m) => ({ name: m.measure, words: m.words })) ?? [];
  const cell = (column: (typeof columns)[number], name: string) =>
    column.curve.measures.find((m) => m.measure === name);
  const shown = (value: number, unit: string, off: number | null | undefined) => {
    if (unit !== "s") return { value, unit, off };
    const time = timeIn(value, timeUnit);
    const share = value === 0 ? 1 : time.value / value;
    return { ...time, off: off === null || off === undefined ? off : off * share };
  };
  const words = (value: number, unit: string) =>
    unit === "s" ? formatTime(value, timeUnit) : withUnit(value, unit);
  const copy = () => {
    const head = ["", ...columns.map((c) => `${c.curve.name}, ${c.run.name}`)];
    const body = rows.map((row) => [
      row.words,
      ...columns.map((c) => {
        const value = cell(c, row.name);
        return value?.value === null || !value ? "" : words(value.value, value.unit);
      }),
    ]);
    void navigator.clipboard.writeText([head, ...body].map((line) => line.join("\t")).join("\n"));
  };
  return (
    <aside
      className="rule-l flex w-[30rem] max-w-[50%] shrink-0 flex-col border-l border-base-300"
      aria-label="Measures"
      data-testid="measures"
    >
      <div className="flex items-center gap-2 px-3 py-1">
        <h3 className="font-semibold">Measures</h3>
        <span className="muted min-w-0 flex-1 truncate">
          {low === undefined
            ? "over the whole run"
            : `from ${formatTime(low, timeUnit)} ${high === undefined ? "on" : `to ${formatTime(high, timeUnit)}`}`}
        </span>
        {ended[0] && <HowSure key={ended[0].id} run={ended[0]} />}
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={copy}
          title="Copy as text, for a spreadsheet"
          data-testid="measures-copy"
        >
          <Copy size={12} /> Copy
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs px-1"
          onClick={onClose}
          aria-label="Close the measures"
        >
          <X size={12} />
        </button>
      </div>
      <div className="min-h-0 overflow-auto">
        <table className="text-[12px]">
          <thead>
            <tr>
              <th className="sticky left-0 bg-base-100 px-3 text-left font-normal" />
              {columns.map(({ run, curve }) => (
                <th
                  key={`${run.id} ${curve.name}`}
                  scope="col"
                  className="px-2 pb-1 text-left align-bottom font-medium"
                >
                  <span className="flex items-center gap-1 whitespace-nowrap">
                    <ColourDot slot={colourOf(view, run)} /> {curve.name}
                  </span>
                  <span className="muted block max-w-32 truncate font-normal" title={run.name}>
                    {run.name}
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.name} className="rule-t">
                <th
                  scope="row"
                  className="sticky left-0 bg-base-100 px-3 text-left font-normal whitespace-nowrap"
                >
                  {row.words}
                </th>
                {columns.map((column) => {
                  const value = cell(column, row.name);
                  return (
                    <td
                      key={`${column.run.id} ${column.curve.name}`}
                      className="mono px-2 text-right whitespace-nowrap"
                      title={value?.reason}
                      data-testid={`measure-${row.name}-${column.curve.name}-${column.run.number}`}
                    >
                      {value?.value === null || !value ? (
                        <span className="muted font-sans">{inShort(value?.reason)}</span>
                      ) : (
                        <CertainNumber {...shown(value.value, value.unit, value.numerical)} />
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
        {columns.length === 0 && (
          <p className="muted px-3">Run the model first; then its curves are measured here.</p>
        )}
      </div>
    </aside>
  );
}
