import { useQueries, useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState, type ReactNode } from "react";

import { ask, client, type ModelView, type RunDetail } from "../api/client";
import { useValues } from "../api/queries";
import { formatTime, withUnit, withIn } from "../ui/format";
import { scaleOf } from "../charts/scale";
import { ColourDot } from "../ui/colour-dot";
import { useInstant } from "../state/instant";
import { colourOf } from "../state/scenarios";
import { runColour } from "../state/shown-runs";
import { useTime } from "../state/time";
import { Axes, type Frame } from "../charts/axes";
import { Dash } from "../charts/dash";

interface Props {
  view: ModelView;
  runs: RunDetail[];
  names: string[];
  onClose: () => void;
}

const FRAME: Frame = { width: 460, height: 250, left: 62, right: 12, top: 18, bottom: 34 };
const { width: WIDTH, height: HEIGHT, left: LEFT, right: RIGHT, top: TOP, bottom: BOTTOM } = FRAME;

/** The frame of a picture beside the strips. */
function Side({
  title,
  aside,
  onClose,
  children,
  testid,
}: {
  title: string;
  aside: ReactNode;
  onClose: () => void;
  children: ReactNode;
  testid: string;
}) {
  return (
    <aside
      className="flex w-[30rem] max-w-[50%] shrink-0 flex-col border-l border-base-300"
      aria-label={title}
      data-testid={testid}
    >
      <div className="flex items-center gap-2 px-3 py-1">
        <h3 className="font-semibold">{title}</h3>
        {aside}
        <button
          type="button"
          className="btn btn-ghost btn-xs ml-auto px-1"
          onClick={onClose}
          aria-label={`Close ${title}`}
        >
          <X size={12} />
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-3">{children}</div>
    </aside>
  );
}

/** Choosing a variable of the shown runs. */
function Pick({
  words,
  value,
  runs,
  onChange,
  testid,
}: {
  words: string;
  value: string;
  runs: RunDetail[];
  onChange: (name: string) => void;
  testid: string;
}) {
  const known = runs[0]?.variables ?? [];
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <label className="flex min-w-0 items-center gap-1">
      <span className="muted">{words}</span>
      <input
        className="input input-xs w-36"
        list={`pick-${testid}`}
        value={typed ?? value}
        onChange={(event) => {
          setTyped(event.target.value);
          if (known.some((v) => v.name === event.target.value)) onChange(event.target.value);
        }}
        onBlur={() => setTyped(null)}
        data-testid={testid}
      />
      <datalist id={`pick-${testid}`}>
        {known.slice(0, 2000).map((v) => (
          <option key={v.name} value={v.name} />
        ))}
      </datalist>
    </label>
  );
}

function useBounds(): { low?: number; high?: number } {
  const { a, b } = useTime((s) => s.marks);
  return a !== null && b !== null ? { low: Math.min(a, b), high: Math.max(a, b) } : {};
}

/** One variable against another; the time cursor is a dot on each curve. */
export function AgainstEachOther({ view, runs, names, onClose }: Props) {
  const [x, setX] = useState(names[0] ?? "");
  const [y, setY] = useState(names[1] ?? names[0] ?? "");
  const cursor = useInstant();
  const bounds = useBounds();
  const drawn = runs.filter(
    (run) => run.points > 0 && [x, y].every((name) => run.variables.some((v) => v.name === name)),
  );
  const answers = useQueries({
    queries: drawn.map((run) => ({
      queryKey: ["pair", run.id, run.points, x, y, bounds.low, bounds.high],
      queryFn: () =>
        ask(
          client.GET("/api/runs/{run}/pair", {
            params: { path: { run: run.id }, query: { x, y, width: 800, ...bounds } },
          }),
        ),
      staleTime: Infinity,
      placeholderData: (before: unknown) => before as never,
    })),
  });
  const shown = (run: RunDetail, name: string) => run.variables.find((v) => v.name === name)!;
  const curves = answers.flatMap((answer, i) => {
    const run = drawn[i]!;
    if (!answer.data) return [];
    const [vx, vy] = [shown(run, x), shown(run, y)];
    return [
      {
        run,
        time: answer.data.time,
        x: answer.data.x.map((v) => v * vx.factor + vx.offset),
        y: answer.data.y.map((v) => v * vy.factor + vy.offset),
      },
    ];
  });
  const [sx, sy] = [
    scaleOf(
      curves.flatMap((c) => c.x),
      LEFT,
      WIDTH - RIGHT,
    ),
    scaleOf(
      curves.flatMap((c) => c.y),
      HEIGHT - BOTTOM,
      TOP,
    ),
  ];
  const unit = (name: string) => runs[0]?.variables.find((v) => v.name === name)?.shown_unit ?? "";
  const place = (time: number[]) =>
    cursor === null
      ? -1
      : Math.max(
          0,
          time.findIndex((t) => t >= cursor),
        );
  return (
    <Side
      title="x–y"
      testid="xy"
      onClose={onClose}
      aside={
        <>
          <Pick words="y" value={y} runs={runs} onChange={setY} testid="xy-y" />
          <Pick words="x" value={x} runs={runs} onChange={setX} testid="xy-x" />
        </>
      }
    >
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label={`${y} against ${x}`}
      >
        <Axes frame={FRAME} x={sx} y={sy} xWords={withIn(x, unit(x))} yWords={withIn(y, unit(y))} />
        {curves.map((c) => (
          <path
            key={c.run.id}
            d={`M${c.x.map((v, i) => `${sx.at(v).toFixed(1)} ${sy.at(c.y[i]!).toFixed(1)}`).join("L")}`}
            fill="none"
            stroke={runColour(colourOf(view, c.run))}
            strokeWidth={1.4}
            data-testid={`xy-curve-${c.run.number}`}
          />
        ))}
        {curves.map((c) => {
          const k = place(c.time);
          return k < 0 ? null : (
            <circle
              key={c.run.id}
              cx={sx.at(c.x[k]!)}
              cy={sy.at(c.y[k]!)}
              r={4}
              fill={runColour(colourOf(view, c.run))}
              stroke="var(--color-base-100)"
            />
          );
        })}
      </svg>
    </Side>
  );
}

const WINDOWS: [string, string][] = [
  ["hann", "Hann"],
  ["hamming", "Hamming"],
  ["blackman", "Blackman"],
  ["flattop", "flat top"],
  ["boxcar", "none"],
];

/** Amplitudes over frequency of the curves on the strips, from A to B. */
export function SpectrumPanel({ view, runs, names, onClose }: Props) {
  const [name, setName] = useState(names[0] ?? "");
  const [window_, setWindow] = useState("hann");
  const [logarithmic, setLogarithmic] = useState(false);
  const bounds = useBounds();
  const drawn = runs.filter((run) => run.points > 0 && run.variables.some((v) => v.name === name));
  const answers = useQueries({
    queries: drawn.map((run) => ({
      queryKey: ["spectrum", run.id, run.points, name, window_, bounds.low, bounds.high],
      queryFn: () =>
        ask(
          client.POST("/api/runs/{run}/spectrum", {
            params: { path: { run: run.id } },
            body: { names: [name], window: window_, ...bounds },
          }),
        ),
      staleTime: Infinity,
      retry: false,
    })),
  });
  const curves = answers.flatMap((answer, i) =>
    answer.data?.curves[0] ? [{ run: drawn[i]!, ...answer.data.curves[0] }] : [],
  );
  const factor = (run: RunDetail) => run.variables.find((v) => v.name === name)?.factor ?? 1;
  const height = (value: number) => (logarithmic ? Math.log10(Math.max(value, 1e-12)) : value);
  // What lies beyond the last line that counts is left out of the picture.
  const most = Math.max(...curves.flatMap((c) => c.amplitude), 0);
  const end = Math.max(
    ...curves.map(
      (c) => c.frequency[c.amplitude.reduce((last, a, i) => (a > most * 2e-3 ? i : last), 8)] ?? 1,
    ),
    0,
  );
  const top = Math.max(...curves.map((c) => Math.max(...c.amplitude) * factor(c.run)), 0);
  const sx = scaleOf([0, end * 1.1 || 1], LEFT, WIDTH - RIGHT);
  const sy = logarithmic
    ? scaleOf([height(top * 1e-5), height(top)], HEIGHT - BOTTOM, TOP)
    : scaleOf([0, top || 1], HEIGHT - BOTTOM, TOP);
  const failed = answers.find((a) => a.error);
  const unit = runs[0]?.variables.find((v) => v.name === name)?.shown_unit ?? "";
  return (
    <Side
      title="Spectrum"
      testid="spectrum"
      onClose={onClose}
      aside={
        <>
          <Pick words="of" value={name} runs={runs} onChange={setName} testid="spectrum-name" />
          <select
            className="select select-xs w-24"
            value={window_}
            aria-label="Window"
            onChange={(event) => setWindow(event.target.value)}
          >
            {WINDOWS.map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </select>
          <label className="flex items-center gap-1">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={logarithmic}
              onChange={(event) => setLogarithmic(event.target.checked)}
            />{" "}
            log
          </label>
        </>
      }
    >
      {failed && <p className="text-error">✕ {String((failed.error as Error).message)}</p>}
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label={`Spectrum of ${name}`}
      >
        <Axes
          frame={FRAME}
          x={sx}
          y={sy}
          xWords="frequency in Hz"
          yWords={logarithmic ? `log10 of ${withIn(name, unit)}` : withIn(name, unit)}
        />
        {curves.map((c) => {
          const points = c.frequency
            .map((f, i) => [f, c.amplitude[i]! * factor(c.run)] as const)
            .filter(([f]) => f <= sx.high);
          return (
            <path
              key={c.run.id}
              d={`M${points.map(([f, a]) => `${sx.at(f).toFixed(1)} ${Math.min(sy.at(height(a)), HEIGHT - BOTTOM).toFixed(1)}`).join("L")}`}
              fill="none"
              stroke={runColour(colourOf(view, c.run))}
              strokeWidth={1.3}
            />
          );
        })}
      </svg>
      {curves.map((c) => {
        const k = c.amplitude.indexOf(Math.max(...c.amplitude));
        return (
          <p
            key={c.run.id}
            className="mono flex items-center gap-1 text-[12px]"
            data-testid={`peak-${c.run.number}`}
          >
            <ColourDot slot={colourOf(view, c.run)} /> highest at {withUnit(c.frequency[k], "Hz")}:{" "}
            {withUnit(c.amplitude[k]! * factor(c.run), unit)}
          </p>
        );
      })}
      <p className="muted text-[12px]">
        {bounds.low === undefined
          ? "Of the whole run; set the marks A and B to choose a part."
          : `From ${formatTime(bounds.low, useTime.getState().unit)} to ${formatTime(bounds.high!, useTime.getState().unit)}.`}
      </p>
    </Side>
  );
}

/** Values at the time cursor as bars, for each quantity on the strips and each run. */
export function Bars({ view, runs, names, onClose }: Props) {
  const cursor = useInstant();
  const shown = runs.filter((run) => run.points > 0);
  return (
    <Side
      title="Bars"
      testid="bars"
      onClose={onClose}
      aside={
        <span className="muted">
          {cursor === null
            ? "at the end of each run"
            : `at ${formatTime(cursor, useTime.getState().unit)}`}
        </span>
      }
    >
      {names.map((name, order) => (
        <div key={name} className="pb-2">
          <p className="flex items-center gap-1.5">
            <Dash order={order} />
            {name}
          </p>
          {shown.map((run) => (
            <Bar key={run.id} view={view} name={name} run={run} at={cursor ?? run.time_reached} />
          ))}
        </div>
      ))}
    </Side>
  );
}

function Bar({
  view,
  name,
  run,
  at,
}: {
  view: ModelView;
  name: string;
  run: RunDetail;
  at: number | null;
}) {
  const values = useValues(run, [name], at);
  const variable = run.variables.find((v) => v.name === name);
  const raw = values.data?.values[name];
  const value =
    variable && typeof raw === "number" ? raw * variable.factor + variable.offset : null;
  const bounds = useQuery({
    queryKey: ["measures", run.id, run.points, name, undefined, undefined],
    queryFn: () =>
      ask(
        client.POST("/api/runs/{run}/measures", {
          params: { path: { run: run.id } },
          body: { names: [name] },
        }),
      ),
    staleTime: Infinity,
    enabled: variable !== undefined,
  });
  const of = (measure: string) =>
    bounds.data?.curves[0]?.measures.find((m) => m.measure === measure)?.value ?? null;
  const [low, high] = [Math.min(0, of("min") ?? 0), Math.max(0, of("max") ?? 0)];
  const scale = scaleOf([low, high], 0, 240);
  if (value === null) return null;
  const [from, to] = [scale.at(0), scale.at(value)];
  return (
    <div className="flex items-center gap-2 text-[12px]">
      <svg width="240" height="12" aria-hidden="true">
        <rect
          x={Math.min(from, to)}
          y={1}
          width={Math.max(Math.abs(to - from), 1)}
          height={10}
          fill={runColour(colourOf(view, run))}
        />
        <path d={`M${from} 0V12`} stroke="var(--color-base-content)" />
      </svg>
      <span className="mono">{withUnit(value, variable?.shown_unit ?? "")}</span>
    </div>
  );
}
