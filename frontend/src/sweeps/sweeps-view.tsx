import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Play, X } from "lucide-react";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { keys, useSweeps } from "../api/queries";
import { ago, formatUnit, shortNumber } from "../ui/format";
import { rowWords } from "../ui/row-text";
import { type Chosen, SideList } from "../ui/side-list";
import { namesOn } from "../state/strip-plan";
import { usePlace } from "../state/place";
import { useStripPlans } from "../state/strips";
import { oneAfterTheOther } from "../state/use-edits";
import { stateWords } from "./state-words";
import { SweepResults } from "./sweep-results";

/** Many runs at once: what varies and how, and what came of it. */
export default function SweepsView({ view }: { view: ModelView }) {
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const list = useSweeps(view);
  const sweeps = list.data?.sweeps ?? [];
  const shown = chosen ?? sweeps[0]?.id ?? "new";
  return (
    <div className="flex h-full bg-base-100" data-testid="sweeps-view">
      <SideList
        label="Sweeps"
        noun="sweep"
        entries={sweeps.map((s) => ({
          id: s.id,
          name: s.name,
          title: s.name,
          words: `${s.scenario}, ${stateWords(s)}, ${ago(s.created)}`,
        }))}
        shown={shown}
        onChoose={setChosen}
      />
      <div className="min-w-0 flex-1 overflow-auto">
        {shown === "new" ? (
          <NewSweep view={view} onOrdered={setChosen} />
        ) : (
          <SweepResults key={shown} view={view} number={shown} onGone={() => setChosen(null)} />
        )}
      </div>
    </div>
  );
}

interface Line {
  name: string;
  low: string;
  high: string;
  count: string;
  distribution: string;
}

const SAMPLES: [string, string][] = [
  ["grid", "grid: every combination"],
  ["lhs", "Latin hypercube"],
  ["sobol", "Sobol sequence"],
  ["random", "random"],
];

function NewSweep({ view, onOrdered }: { view: ModelView; onOrdered: (sweep: number) => void }) {
  const cache = useQueryClient();
  const scenario = usePlace((s) => s.scenario);
  const strips = useStripPlans((s) => s.strips);
  const curves = namesOn(strips).slice(0, 6);
  const rows = view.rows.filter(
    (row) =>
      row.group !== "watch" &&
      row.fixed === null &&
      row.editable &&
      row.type === "Real" &&
      typeof row.value === "number",
  );
  const [lines, setLines] = useState<Line[]>([]);
  const [sample, setSample] = useState("grid");
  const [points, setPoints] = useState("100");
  const [measures, setMeasures] = useState(() => (curves[0] ? `max(${curves[0]})` : ""));
  const path = { project: view.project, model: view.model };
  const order = useMutation({
    scope: oneAfterTheOther(view),
    mutationFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/sweeps", {
          params: { path },
          body: {
            scenario,
            sample,
            points: Number(points),
            seed: 1,
            curves,
            measures: measures
              .split("\n")
              .map((m) => m.trim())
              .filter(Boolean),
            varied: lines.map((line) => ({
              name: line.name,
              low: Number(line.low),
              high: Number(line.high),
              count: Number(line.count) || 1,
              values: [],
              distribution: line.distribution,
            })),
          },
        }),
      ),
    onSuccess: (made) => {
      void cache.invalidateQueries({ queryKey: keys.sweeps(view.project, view.model) });
      onOrdered(made.id);
    },
  });
  const add = (name: string) => {
    const row = rows.find((r) => r.name === name);
    if (!row || lines.some((l) => l.name === name)) return;
    const value = Number(row.value);
    setLines([
      ...lines,
      {
        name,
        low: shortNumber(value === 0 ? 0 : value * (value > 0 ? 0.5 : 1.5)),
        high: shortNumber(value === 0 ? 1 : value * (value > 0 ? 1.5 : 0.5)),
        count: "5",
        distribution: "uniform",
      },
    ]);
  };
  const change = (i: number, part: Partial<Line>) =>
    setLines(lines.map((l, k) => (k === i ? { ...l, ...part } : l)));
  const total =
    sample === "grid"
      ? lines.reduce((n, l) => n * (Number(l.count) || 0), lines.length ? 1 : 0)
      : Number(points) || 0;
  const cell = "input input-sm mono w-24";
  return (
    <form
      className="flex max-w-3xl flex-col gap-4 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        order.mutate();
      }}
      data-testid="sweep-form"
    >
      <section>
        <h2 className="pb-1 font-semibold">What varies</h2>
        {lines.length > 0 && (
          <table>
            <thead>
              <tr className="muted text-left text-[12px]">
                <th className="pr-4 font-normal">parameter</th>
                <th className="pr-2 font-normal">from</th>
                <th className="pr-2 font-normal">to</th>
                {sample === "grid" && <th className="pr-2 font-normal">points</th>}
                <th className="font-normal">spaced</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {lines.map((line, i) => {
                const row = rows.find((r) => r.name === line.name);
                return (
                  <tr key={line.name} data-testid={`vary-${line.name}`}>
                    <td className="pr-4" title={row?.description}>
                      {line.name} <span className="muted">{row ? `now ${rowWords(row)}` : ""}</span>
                    </td>
                    <td className="pr-2">
                      <input
                        className={cell}
                        aria-label={`${line.name} from`}
                        value={line.low}
                        onChange={(e) => change(i, { low: e.target.value })}
                        data-testid={`low-${line.name}`}
                      />
                    </td>
                    <td className="pr-2">
                      <input
                        className={cell}
                        aria-label={`${line.name} to`}
                        value={line.high}
                        onChange={(e) => change(i, { high: e.target.value })}
                        data-testid={`high-${line.name}`}
                      />{" "}
                      <span className="muted">{formatUnit(row?.unit ?? "")}</span>
                    </td>
                    {sample === "grid" && (
                      <td className="pr-2">
                        <input
                          className="input input-sm mono w-16"
                          aria-label={`${line.name} points`}
                          value={line.count}
                          onChange={(e) => change(i, { count: e.target.value })}
                          data-testid={`count-${line.name}`}
                        />
                      </td>
                    )}
                    <td>
                      <select
                        className="select select-sm"
                        aria-label={`${line.name} spaced`}
                        value={line.distribution}
                        onChange={(e) => change(i, { distribution: e.target.value })}
                      >
                        <option value="uniform">evenly</option>
                        <option value="log">logarithmically</option>
                        {sample !== "grid" && (
                          <option value="normal">normally, within 2 deviations</option>
                        )}
                      </select>
                    </td>
                    <td>
                      <button
                        type="button"
                        className="btn btn-ghost btn-xs px-1"
                        onClick={() => setLines(lines.filter((_, k) => k !== i))}
                        aria-label={`Do not vary ${line.name}`}
                      >
                        <X size={12} />
                      </button>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
        <select
          className="select select-sm mt-1 w-80"
          value=""
          aria-label="Parameter to vary"
          onChange={(event) => add(event.target.value)}
          data-testid="vary-add"
        >
          <option value="">add a parameter…</option>
          {rows
            .filter((row) => !lines.some((l) => l.name === row.name))
            .map((row) => (
              <option key={row.name} value={row.name}>
                {row.name} {row.description ? `(${row.description})` : ""}
              </option>
            ))}
        </select>
      </section>
      <section className="flex items-center gap-3">
        <label className="flex items-center gap-2">
          points by
          <select
            className="select select-sm w-56"
            value={sample}
            onChange={(event) => setSample(event.target.value)}
            data-testid="sweep-sample"
          >
            {SAMPLES.map(([name, words]) => (
              <option key={name} value={name}>
                {words}
              </option>
            ))}
          </select>
        </label>
        {sample !== "grid" && (
          <label className="flex items-center gap-2">
            <input
              className="input input-sm mono w-24"
              value={points}
              onChange={(event) => setPoints(event.target.value)}
              data-testid="sweep-points"
            />{" "}
            points
          </label>
        )}
      </section>
      <label className="flex flex-col gap-1">
        <span>
          What is measured, one in a line{" "}
          <span className="muted">max, final, mean, settle, period, at(x, 3 s), …</span>
        </span>
        <textarea
          className="textarea mono w-full"
          rows={3}
          value={measures}
          onChange={(event) => setMeasures(event.target.value)}
          placeholder="max(basin.level)"
          data-testid="sweep-measures"
        />
      </label>
      <p className="muted text-[12px]">
        Scenario {scenario}.{" "}
        {curves.length > 0
          ? `The curves on the strips (${curves.join(", ")}) are kept, thinned.`
          : "Put curves on a strip first to keep them."}{" "}
        Other values are those of the model as it is now.
      </p>
      {order.error && (
        <p role="alert" className="text-error" data-testid="sweep-fault">
          ✕ {asRefusal(order.error).sentence}
        </p>
      )}
      <button
        type="submit"
        className="btn btn-primary self-start"
        disabled={order.isPending || lines.length === 0 || view.problem !== null}
        data-testid="sweep-start"
      >
        <Play size={14} /> Run {total} point{total === 1 ? "" : "s"}
      </button>
    </form>
  );
}
