import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Pause, Play, RotateCcw, Square, Trash2 } from "lucide-react";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { formatNumber, formatUnit, withUnit, withIn } from "../ui/format";
import { Axes, type Frame } from "../charts/axes";
import { useEdits } from "../state/use-edits";
import { freeName } from "../state/scenarios";
import { usePlace } from "../state/place";
import { scaleOf, shade, steps } from "../charts/scale";
import { stateWords } from "./state-words";

type Detail = Schemas["SweepDetail"];
type Point = Schemas["PointView"];

const WAYS = [
  ["curves", "Curves"],
  ["against", "Measure against parameter"],
  ["map", "Map"],
  ["parallel", "All together"],
  ["table", "Table"],
] as const;
type Way = (typeof WAYS)[number][0];

/** What came of a sweep, while it grows and afterwards. */
export function SweepResults({
  view,
  number,
  onGone,
}: {
  view: ModelView;
  number: number;
  onGone: () => void;
}) {
  const cache = useQueryClient();
  const key = ["sweep", number];
  const answer = useQuery({
    queryKey: key,
    queryFn: () => ask(client.GET("/api/sweeps/{sweep}", { params: { path: { sweep: number } } })),
    refetchInterval: (query) =>
      query.state.data && ["running", "paused"].includes(query.state.data.state) ? 1000 : false,
  });
  const [way, setWay] = useState<Way | null>(null);
  const [picked, setPicked] = useState<number | null>(null);
  const steer = useMutation({
    mutationFn: (what: string) =>
      ask(client.POST("/api/sweeps/{sweep}/{what}", { params: { path: { sweep: number, what } } })),
    onSettled: () => {
      void cache.invalidateQueries({ queryKey: key });
      void cache.invalidateQueries({ queryKey: ["sweeps"] });
    },
  });
  const sweep = answer.data;
  if (!sweep) return <p className="muted p-4">Opening…</p>;
  const shown: Way =
    way ??
    (sweep.measures.length === 0
      ? "curves"
      : sweep.varied.length === 2 && sweep.sample === "grid"
        ? "map"
        : "against");
  const done = sweep.done + sweep.failed;
  const point = sweep.points.find((p) => p.number === picked);
  return (
    <div className="flex flex-col gap-2 p-3" data-testid="sweep-results" data-state={sweep.state}>
      <header className="flex flex-wrap items-center gap-2">
        <h2 className="font-semibold">{sweep.name}</h2>
        <span className="muted">of {sweep.scenario}</span>
        <progress
          className="progress w-40"
          value={done}
          max={sweep.count}
          aria-label="Points that are done"
        />
        <span className="mono" data-testid="sweep-progress">
          {done}/{sweep.count}
        </span>
        <span className="muted">{stateWords(sweep)}</span>
        {sweep.failed > 0 && (
          <span className="text-error" data-testid="sweep-failed">
            {sweep.failed} failed
          </span>
        )}
        {sweep.state === "running" && (
          <Steer icon={<Pause size={13} />} words="Pause" onClick={() => steer.mutate("pause")} />
        )}
        {sweep.state === "paused" && (
          <Steer icon={<Play size={13} />} words="Resume" onClick={() => steer.mutate("resume")} />
        )}
        {["running", "paused"].includes(sweep.state) && (
          <Steer icon={<Square size={13} />} words="Stop" onClick={() => steer.mutate("stop")} />
        )}
        {sweep.failed > 0 && (
          <Steer
            icon={<RotateCcw size={13} />}
            words="Try the failed ones again"
            onClick={() => steer.mutate("retry")}
          />
        )}
        <a
          className="btn btn-ghost btn-xs font-normal"
          href={`/api/sweeps/${number}/table.csv`}
          download
          data-testid="sweep-csv"
        >
          CSV
        </a>
        <DeleteSweep number={number} onGone={onGone} />
      </header>
      {steer.error && <p className="text-error">✕ {asRefusal(steer.error).sentence}</p>}
      <div role="tablist" aria-label="Ways to look at the sweep" className="rule-b flex">
        {WAYS.filter(([name]) =>
          name === "map"
            ? sweep.varied.length >= 2 && sweep.measures.length > 0
            : name === "curves"
              ? sweep.curves.length > 0
              : name === "against"
                ? sweep.measures.length > 0
                : true,
        ).map(([name, words]) => (
          <button
            key={name}
            type="button"
            role="tab"
            aria-selected={shown === name}
            className={`px-2.5 py-1 ${shown === name ? "border-b-2 border-base-content font-medium" : "muted border-b-2 border-transparent"}`}
            onClick={() => setWay(name)}
            data-testid={`sweep-way-${name}`}
          >
            {words}
          </button>
        ))}
      </div>
      {shown === "curves" && <Curves sweep={sweep} onPick={setPicked} />}
      {shown === "against" && <Against sweep={sweep} picked={picked} onPick={setPicked} />}
      {shown === "map" && <HeatMap sweep={sweep} picked={picked} onPick={setPicked} />}
      {shown === "parallel" && <Parallel sweep={sweep} picked={picked} onPick={setPicked} />}
      {shown === "table" && <PointTable sweep={sweep} picked={picked} onPick={setPicked} />}
      {point && <Picked view={view} sweep={sweep} point={point} />}
    </div>
  );
}

function Steer({
  icon,
  words,
  onClick,
}: {
  icon: React.ReactNode;
  words: string;
  onClick: () => void;
}) {
  return (
    <button
      type="button"
      className="btn btn-xs font-normal"
      onClick={onClick}
      data-testid={`sweep-${words.split(" ")[0]!.toLowerCase()}`}
    >
      {icon} {words}
    </button>
  );
}

/** Deleting a sweep. */
function DeleteSweep({ number, onGone }: { number: number; onGone: () => void }) {
  const cache = useQueryClient();
  const remove = useMutation({
    mutationFn: () =>
      ask(client.DELETE("/api/sweeps/{sweep}", { params: { path: { sweep: number } } })),
    onSuccess: () => {
      void cache.invalidateQueries({ queryKey: ["sweeps"] });
      onGone();
    },
  });
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs"
      onClick={() => remove.mutate()}
      aria-label="Delete this sweep"
      title="Delete this sweep"
      data-testid="sweep-delete"
    >
      <Trash2 size={13} />
    </button>
  );
}

/** The point that was clicked: its values, and a way to make it a scenario. */
function Picked({ view, sweep, point }: { view: ModelView; sweep: Detail; point: Point }) {
  const edits = useEdits(view, () => undefined);
  const setScenario = usePlace((s) => s.setScenario);
  const make = () => {
    const name = freeName(view, `point ${point.number + 1}`);
    const rows = Object.entries(point.values).map(([place, value]) => `${place}\t${value}`);
    edits.mutate(
      { do: "paste scenarios", text: [`\t${name}`, ...rows].join("\n") },
      { onSuccess: () => setScenario(name) },
    );
  };
  return (
    <div className="rule-t flex flex-wrap items-center gap-3 pt-2" data-testid="picked-point">
      <span className="font-medium">Point {point.number + 1}</span>
      {Object.entries(point.values).map(([name, value]) => (
        <span key={name}>
          {name} <span className="mono">{withUnit(value, sweep.units[name] ?? "")}</span>
        </span>
      ))}
      {sweep.measures.map((text, i) => (
        <span key={text} className="muted">
          {text}{" "}
          <span className="mono">
            {withUnit(point.measures[i] ?? null, sweep.units[text] ?? "") || "–"}
          </span>
        </span>
      ))}
      {point.reason && <span className="text-error">✕ {point.reason}</span>}
      <button type="button" className="btn btn-xs" onClick={make} data-testid="point-to-scenario">
        Make it a scenario
      </button>
      {edits.error && <span className="text-error">✕ {asRefusal(edits.error).sentence}</span>}
    </div>
  );
}

interface PartProps {
  sweep: Detail;
  picked: number | null;
  onPick: (point: number) => void;
}

const FRAME: Frame = { width: 760, height: 300, left: 70, right: 16, top: 22, bottom: 40 };
const { width: WIDTH, height: HEIGHT, left: LEFT, right: RIGHT, top: TOP, bottom: BOTTOM } = FRAME;

function Choice({
  words,
  value,
  options,
  onChange,
  testid,
}: {
  words: string;
  value: string;
  options: string[];
  onChange: (value: string) => void;
  testid: string;
}) {
  return (
    <label className="flex items-center gap-1">
      <span className="muted">{words}</span>
      <select
        className="select select-xs"
        value={value}
        onChange={(event) => onChange(event.target.value)}
        data-testid={testid}
      >
        {options.map((option) => (
          <option key={option}>{option}</option>
        ))}
      </select>
    </label>
  );
}

/** The family of curves of one variable: the middle, half of all, nine tenths of all. */
function Curves({ sweep, onPick }: { sweep: Detail; onPick: (point: number) => void }) {
  const [name, setName] = useState(sweep.curves[0]!);
  const answer = useQuery({
    queryKey: ["bands", sweep.id, name, sweep.done],
    queryFn: () =>
      ask(
        client.GET("/api/sweeps/{sweep}/bands", {
          params: { path: { sweep: sweep.id }, query: { name } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const bands = answer.data;
  if (!bands) return <p className="muted">Opening…</p>;
  const all = [
    ...bands.curves.flatMap((c) => c.values),
    ...Object.values(bands.percentiles).flat(),
  ];
  const x = scaleOf(bands.time, LEFT, WIDTH - RIGHT);
  const y = scaleOf(all, HEIGHT - BOTTOM, TOP);
  const line = (values: (number | null)[]) =>
    values
      .map((v, i) => (v === null ? "" : `${x.at(bands.time[i]!).toFixed(1)} ${y.at(v).toFixed(1)}`))
      .filter(Boolean)
      .join("L");
  const area = (low: string, high: string) => {
    const [a, b] = [bands.percentiles[low], bands.percentiles[high]];
    return a && b ? `M${line(b)}L${line(a).split("L").reverse().join("L")}Z` : "";
  };
  return (
    <div>
      <Choice
        words="curves of"
        value={name}
        options={sweep.curves}
        onChange={setName}
        testid="band-name"
      />
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-4xl"
        role="img"
        aria-label={`Curves of ${name} at all points, with bands`}
        data-testid="bands"
      >
        <Axes frame={FRAME} x={x} y={y} xWords="time in s" yWords={withIn(name, bands.unit)} />
        <path d={area("5", "95")} fill="var(--run-0)" opacity={0.15} />
        <path d={area("25", "75")} fill="var(--run-0)" opacity={0.25} />
        {bands.curves.map((curve) => (
          <path
            key={curve.point}
            d={`M${line(curve.values)}`}
            fill="none"
            stroke="var(--run-0)"
            strokeWidth={1}
            opacity={0.35}
            className="cursor-pointer hover:opacity-100"
            onClick={() => onPick(curve.point)}
          />
        ))}
        {bands.percentiles["50"] && (
          <path
            d={`M${line(bands.percentiles["50"])}`}
            fill="none"
            stroke="var(--color-base-content)"
            strokeWidth={2}
          />
        )}
      </svg>
      <p className="muted text-[12px]">
        Dark line: the median. Bands: half of all points, and nine tenths of them. Up to 40 single
        curves.
      </p>
    </div>
  );
}

function Against({ sweep, picked, onPick }: PartProps) {
  const names = sweep.varied.map((v) => v.name);
  const [name, setName] = useState(names[0]!);
  const [measure, setMeasure] = useState(sweep.measures[0]!);
  const at = sweep.measures.indexOf(measure);
  const points = sweep.points.filter((p) => typeof p.measures[at] === "number");
  const x = scaleOf(
    points.map((p) => p.values[name]),
    LEFT,
    WIDTH - RIGHT,
  );
  const y = scaleOf(
    points.map((p) => p.measures[at]),
    HEIGHT - BOTTOM,
    TOP,
  );
  return (
    <div>
      <div className="flex gap-3">
        <Choice
          words="measure"
          value={measure}
          options={sweep.measures}
          onChange={setMeasure}
          testid="against-measure"
        />
        <Choice
          words="against"
          value={name}
          options={names}
          onChange={setName}
          testid="against-parameter"
        />
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-4xl"
        role="img"
        aria-label={`${measure} against ${name}`}
        data-testid="against"
      >
        <Axes
          frame={FRAME}
          x={x}
          y={y}
          xWords={withIn(name, sweep.units[name])}
          yWords={withIn(measure, sweep.units[measure])}
        />
        {points.map((p) => (
          <circle
            key={p.number}
            cx={x.at(p.values[name]!)}
            cy={y.at(p.measures[at]!)}
            r={p.number === picked ? 5 : 3}
            fill={p.number === picked ? "var(--color-primary)" : "var(--run-0)"}
            className="cursor-pointer"
            onClick={() => onPick(p.number)}
          >
            <title>{`point ${p.number + 1}: ${withUnit(p.measures[at], sweep.units[measure] ?? "")}`}</title>
          </circle>
        ))}
      </svg>
    </div>
  );
}

/** A measure over two parameters; points of a grid are cells, others dots. */
function HeatMap({ sweep, picked, onPick }: PartProps) {
  const names = sweep.varied.map((v) => v.name);
  const [across, setAcross] = useState(names[0]!);
  const [up, setUp] = useState(names[1]!);
  const [measure, setMeasure] = useState(sweep.measures[0]!);
  const at = sweep.measures.indexOf(measure);
  const known = sweep.points.filter((p) => typeof p.measures[at] === "number");
  const z = scaleOf(
    known.map((p) => p.measures[at]),
    0,
    1,
  );
  const [xs, ys] = [
    steps(sweep.points.map((p) => p.values[across]!)),
    steps(sweep.points.map((p) => p.values[up]!)),
  ];
  const grid = sweep.sample === "grid";
  const [x, y] = [
    scaleOf(xs, LEFT + (grid ? 20 : 8), WIDTH - 130),
    scaleOf(ys, HEIGHT - BOTTOM - (grid ? 14 : 8), TOP + 24),
  ];
  const [cellWidth, cellHeight] = [
    (WIDTH - 150 - LEFT) / xs.length,
    (HEIGHT - BOTTOM - TOP - 24) / ys.length,
  ];
  const px = (p: Point) =>
    grid ? LEFT + 4 + xs.indexOf(p.values[across]!) * cellWidth : x.at(p.values[across]!);
  const py = (p: Point) =>
    grid ? HEIGHT - BOTTOM - (ys.indexOf(p.values[up]!) + 1) * cellHeight : y.at(p.values[up]!);
  const some = (all: number[]) =>
    all.filter((_, i) => all.length <= 8 || i % Math.ceil(all.length / 8) === 0);
  return (
    <div>
      <div className="flex gap-3">
        <Choice
          words="measure"
          value={measure}
          options={sweep.measures}
          onChange={setMeasure}
          testid="map-measure"
        />
        <Choice
          words="across"
          value={across}
          options={names}
          onChange={setAcross}
          testid="map-across"
        />
        <Choice words="upwards" value={up} options={names} onChange={setUp} testid="map-up" />
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-4xl"
        role="img"
        aria-label={`${measure} over ${across} and ${up}`}
        data-testid="heat-map"
      >
        {sweep.points.map((p) => {
          const value = p.measures[at];
          const fill = typeof value === "number" ? shade(z.at(value)) : "none";
          const common = {
            fill,
            stroke:
              p.number === picked
                ? "var(--color-base-content)"
                : p.state === "failed"
                  ? "var(--color-error)"
                  : "none",
            strokeWidth: 2,
            className: "cursor-pointer",
            onClick: () => onPick(p.number),
            "data-testid": `cell-${p.number}`,
          };
          const title = (
            <title>{`${across} ${withUnit(p.values[across], sweep.units[across] ?? "")}, ${up} ${withUnit(p.values[up], sweep.units[up] ?? "")}: ${typeof value === "number" ? withUnit(value, sweep.units[measure] ?? "") : p.reason || p.state}`}</title>
          );
          return grid ? (
            <rect
              key={p.number}
              x={px(p)}
              y={py(p)}
              width={cellWidth + 0.3}
              height={cellHeight + 0.3}
              {...common}
              pointerEvents="all"
              shapeRendering="crispEdges"
            >
              {title}
            </rect>
          ) : (
            <circle key={p.number} cx={px(p)} cy={py(p)} r={5} {...common} pointerEvents="all">
              {title}
            </circle>
          );
        })}
        <g fontSize={12} fill="var(--color-secondary)">
          {some(xs).map((v) => (
            <text
              key={v}
              x={grid ? LEFT + 4 + (xs.indexOf(v) + 0.5) * cellWidth : x.at(v)}
              y={HEIGHT - BOTTOM + 15}
              textAnchor="middle"
            >
              {formatNumber(v, 3)}
            </text>
          ))}
          {some(ys).map((v) => (
            <text
              key={v}
              x={LEFT - 4}
              y={(grid ? HEIGHT - BOTTOM - (ys.indexOf(v) + 0.5) * cellHeight : y.at(v)) + 4}
              textAnchor="end"
            >
              {formatNumber(v, 3)}
            </text>
          ))}
          <text x={(LEFT + WIDTH - 130) / 2} y={HEIGHT - 6} textAnchor="middle">
            {withIn(across, sweep.units[across])}
          </text>
          <text x={4} y={TOP - 6}>
            {withIn(up, sweep.units[up])}
          </text>
        </g>
        <g fontSize={12} fill="var(--color-secondary)">
          {Array.from({ length: 40 }, (_, i) => (
            <rect
              key={i}
              x={WIDTH - 110}
              y={HEIGHT - BOTTOM - ((i + 1) * (HEIGHT - BOTTOM - 40)) / 40}
              width={16}
              height={(HEIGHT - BOTTOM - 40) / 40 + 0.5}
              fill={shade(i / 39)}
            />
          ))}
          <text x={WIDTH - 90} y={HEIGHT - BOTTOM}>
            {formatNumber(z.low, 4)}
          </text>
          <text x={WIDTH - 90} y={48}>
            {formatNumber(z.high, 4)}
          </text>
          <text x={WIDTH - 110} y={30} fill="var(--color-base-content)">
            {formatUnit(sweep.units[measure] ?? "")}
          </text>
        </g>
      </svg>
    </div>
  );
}

/** Every point as a line across an axis for each parameter and measure. */
function Parallel({ sweep, picked, onPick }: PartProps) {
  const axes = [
    ...sweep.varied.map((v) => ({
      words: withIn(v.name, sweep.units[v.name]),
      of: (p: Point) => p.values[v.name] ?? null,
    })),
    ...sweep.measures.map((text, i) => ({
      words: withIn(text, sweep.units[text]),
      of: (p: Point) => p.measures[i] ?? null,
    })),
  ];
  const done = sweep.points.filter((p) => p.state === "done");
  const scales = axes.map((axis) => scaleOf(done.map(axis.of), HEIGHT - 30, 40));
  const x = (i: number) => 60 + (i * (WIDTH - 120)) / Math.max(axes.length - 1, 1);
  const last = axes.length - 1;
  const tone = scaleOf(done.map(axes[last]!.of), 0, 1);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full max-w-4xl"
      role="img"
      aria-label="All points over all parameters and measures"
      data-testid="parallel"
    >
      {done.map((p) => {
        const values = axes.map((axis) => axis.of(p));
        const points = values
          .map((v, i) => (v === null ? null : `${x(i)} ${scales[i]!.at(v).toFixed(1)}`))
          .filter(Boolean);
        const value = values[last];
        return (
          <path
            key={p.number}
            d={`M${points.join("L")}`}
            fill="none"
            stroke={
              p.number === picked
                ? "var(--color-base-content)"
                : shade(typeof value === "number" ? tone.at(value) : 0)
            }
            strokeWidth={p.number === picked ? 2.5 : 1.2}
            opacity={p.number === picked ? 1 : 0.6}
            className="cursor-pointer"
            onClick={() => onPick(p.number)}
          />
        );
      })}
      <g fontSize={11.5} fill="var(--color-secondary)">
        {axes.map((axis, i) => (
          <g key={axis.words}>
            <path d={`M${x(i)} 40V${HEIGHT - 30}`} stroke="var(--color-base-content)" />
            <text x={x(i)} y={16} textAnchor="middle" fill="var(--color-base-content)">
              {axis.words}
            </text>
            <text x={x(i)} y={33} textAnchor="middle">
              {formatNumber(scales[i]!.high, 4)}
            </text>
            <text x={x(i)} y={HEIGHT - 14} textAnchor="middle">
              {formatNumber(scales[i]!.low, 4)}
            </text>
          </g>
        ))}
      </g>
    </svg>
  );
}

function PointTable({ sweep, picked, onPick }: PartProps) {
  const [failed, setFailed] = useState(false);
  const rows = (failed ? sweep.points.filter((p) => p.state === "failed") : sweep.points).slice(
    0,
    1000,
  );
  return (
    <div>
      <label className="flex items-center gap-2 py-1">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={failed}
          onChange={(event) => setFailed(event.target.checked)}
          data-testid="only-failed"
        />{" "}
        only those that failed
      </label>
      <table className="text-[12px]" data-testid="point-table">
        <thead>
          <tr className="text-left">
            <th className="pr-4">point</th>
            {sweep.varied.map((v) => (
              <th key={v.name} className="pr-4">
                {withIn(v.name, sweep.units[v.name])}
              </th>
            ))}
            {sweep.measures.map((text) => (
              <th key={text} className="pr-4">
                {withIn(text, sweep.units[text])}
              </th>
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {rows.map((p) => (
            <tr
              key={p.number}
              className={`rule-t cursor-pointer hover:bg-base-200 ${p.number === picked ? "bg-base-200" : ""}`}
              onClick={() => onPick(p.number)}
            >
              <td className="mono pr-4">{p.number + 1}</td>
              {sweep.varied.map((v) => (
                <td key={v.name} className="mono pr-4 text-right">
                  {formatNumber(p.values[v.name])}
                </td>
              ))}
              {sweep.measures.map((text, i) => (
                <td key={text} className="mono pr-4 text-right">
                  {typeof p.measures[i] === "number" ? formatNumber(p.measures[i]) : "–"}
                </td>
              ))}
              <td className={p.state === "failed" ? "text-error" : "muted"}>
                {p.reason || p.state}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {sweep.points.length > 1000 && (
        <p className="muted">The first 1000 rows; all of them are in the CSV file.</p>
      )}
    </div>
  );
}
