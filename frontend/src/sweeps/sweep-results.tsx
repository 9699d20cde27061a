import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Pause, Play, RotateCcw, Square, Trash2 } from "lucide-react";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { withUnit } from "../ui/format";
import { useEdits } from "../state/use-edits";
import { freeName } from "../state/scenarios";
import { usePlace } from "../state/place";
import { Against } from "./against";
import { ClaimShares } from "./claim-shares";
import { Curves } from "./curves";
import { HeatMap } from "./heat-map";
import { Parallel } from "./parallel";
import type { Detail, Point } from "./part";
import { PointTable } from "./point-table";
import { stateWords } from "./state-words";

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
      <ClaimShares sweep={sweep} onPick={setPicked} />
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
        Turn into a scenario
      </button>
      {edits.error && <span className="text-error">✕ {asRefusal(edits.error).sentence}</span>}
    </div>
  );
}
