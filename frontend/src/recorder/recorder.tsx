import { keepPreviousData, useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { Bookmark, Pause as PauseIcon, Play as PlayIcon } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";

import type { Curve, ModelView, RunDetail, RunView } from "../api/client";
import { fetchCurves, keys, useValues } from "../api/queries";
import { formatTime } from "../format";
import { ReportMenu } from "../report/report-menu";
import { useEdits } from "../sheet/use-edits";
import { RunChips } from "../workspace/run-chips";
import { colourOf, fadedRuns, scenarioOf } from "../workspace/scenarios";
import { useView } from "../workspace/state";
import { drawn, likeFirst, type DrawnCurve } from "./curves";
import { ExportMenu } from "./export-menu";
import { Measures } from "./measures";
import { AgainstEachOther, Bars, SpectrumPanel } from "./side-panel";
import { Strip } from "./strip";

/** The charts under the sheet: strips that share one time axis and one time cursor. */
export function Recorder({ view, list, runs, canRun, onFault }: { view: ModelView; list: RunView[]; runs: RunDetail[]; canRun: boolean; onFault: (sentence: string) => void }) {
  const { live, scenario, marks, setMark, hover, strips, range, cursor, current, setStrips, setRange, setCursor } = useView();
  const host = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1000);
  useEffect(() => {
    if (!host.current) return;
    const watcher = new ResizeObserver(([entry]) => setWidth(Math.max(200, Math.round((entry!.contentRect.width - 220) / 100) * 100)));
    watcher.observe(host.current);
    return () => watcher.disconnect();
  }, []);

  const keep = useEdits(view, (sentence) => sentence && onFault(sentence));
  const [side, setSide] = useState<Side | null>(null);
  const names = useMemo(() => [...new Set((strips ?? []).flat())], [strips]);
  const settled = useSettled(range);
  const padded = settled && ([settled[0] - (settled[1] - settled[0]), settled[1] + (settled[1] - settled[0])] as [number, number]);
  const rangeKey = padded ? padded.map((v) => v.toPrecision(6)).join(":") : "all";
  const cache = useQueryClient();
  const wanted = runs.filter((run) => run.points > 0);
  const answer = useQuery({
    // With the number of points in the key a run that grows is fetched anew; the old curves stay until then.
    queryKey: ["drawn", wanted.map((run) => `${run.id}:${run.points}`), names, width, rangeKey],
    queryFn: () => Promise.all(wanted.map((run) => curvesOnce(cache, run, namesOf(run, names), padded ? width * 3 : width, padded))),
    enabled: wanted.length > 0 && names.length > 0,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });
  const data = useMemo(() => new Map(answer.data?.map((curves) => [curves.run, curves.curves])), [answer.data]);
  const extent = useExtent(runs, data);
  const events = useMemo(() => (runs.find((run) => run.id === current)?.events ?? []).slice(0, MOST_EVENTS), [runs, current]);
  const instant = hover ?? cursor;
  const [shownLow, shownHigh] = range ?? extent;
  const near = instant === null ? undefined : events.find((e) => Math.abs(e.time - instant) < (shownHigh - shownLow) / 250);
  const differences = useDifferences(runs.find((run) => run.id === current), strips);
  const byStrip = useMemo(() => (strips ?? []).map((strip) => [...curvesOf(view, strip, runs, data, live !== null), ...liveCurves(live, strip, runs, scenarioOf(view, scenario).colour)]), [view, strips, runs, data, live, scenario]);

  const onKey = (event: React.KeyboardEvent) => {
    if ((event.target as HTMLElement).closest("input, select, textarea") || event.ctrlKey || event.metaKey) return;
    const [min, max] = range ?? extent;
    const step = (max - min) / (event.shiftKey ? 20 : 200);
    if (event.key === "ArrowRight" || event.key === "ArrowLeft") {
      const next = (cursor ?? min) + (event.key === "ArrowRight" ? step : -step);
      setCursor(Math.min(extent[1], Math.max(extent[0], next)));
      event.preventDefault();
    } else if (event.key === "Home") setCursor(extent[0]);
    else if (event.key === "End") setCursor(extent[1]);
    else if (event.key === "Escape") setCursor(null);
    else if (event.key === "0") setRange(null);
    else if (event.key === "a" || event.key === "b") {
      const at = hover ?? cursor;
      if (at !== null) setMark(event.key, at);
    } else if (event.key === "p") document.querySelector<HTMLElement>('[data-testid="play"]')?.click();
    else if (event.key === "m") setSide((now) => (now === "measures" ? null : "measures"));
  };

  return (
    <section
      ref={host}
      className="flex h-full flex-col bg-base-100"
      aria-label="Recorder"
      data-testid="recorder"
      data-drawn={runs.filter((run) => data.get(run.id)?.length).map((run) => run.id).join(" ")}
      tabIndex={0}
      onKeyDown={onKey}
      data-own-keys
    >
      <header className="flex items-center gap-3 px-3 py-1">
        <h2 className="font-semibold">Recorder</h2>
        <span className="muted shrink-0" data-testid="cursor-time">
          {cursor !== null ? `time cursor at ${formatTime(cursor)}` : "click: time cursor; drag: zoom"}
        </span>
        {near && (
          <span className="max-w-80 truncate" title={near.cause} data-testid="near-event">
            ▾ {formatTime(near.time)}: {near.cause}
          </span>
        )}
        {cursor !== null && (
          <button type="button" className="btn btn-ghost btn-xs -ml-2 px-1" onClick={() => setCursor(null)} aria-label="Clear the time cursor" title="Clear the time cursor (Esc)">
            ×
          </button>
        )}
        <RunChips view={view} runs={list} />
        <Play extent={range ?? extent} />
        <Marks at={cursor} />
        <select className="select select-xs w-28 border-0" value={side ?? ""} aria-label="Beside the strips" title="What is shown beside the strips (M: measures)" onChange={(event) => setSide((event.target.value || null) as Side | null)} data-testid="beside">
          <option value="">Beside…</option>
          {SIDES.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
        <ExportMenu runs={runs} names={names} />
        <button type="button" className="btn btn-ghost btn-xs shrink-0 px-1" onClick={() => keep.mutate({ do: "keep strips", strips: strips ?? [] })} disabled={!strips?.length || keep.isPending} aria-label="Keep these strips with the model" title="Keep these strips with the model: others who open it see them" data-testid="keep-strips">
          <Bookmark size={13} />
        </button>
        <ReportMenu view={view} runs={runs} onFault={onFault} />
        {range && (
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => setRange(null)} data-testid="zoom-reset">
            Show all ({formatTime(range[0])} to {formatTime(range[1])})
          </button>
        )}
      </header>
      {runs.length === 0 || data.size === 0 ? (
        <Empty canRun={canRun} waiting={runs.length > 0} runs={runs} />
      ) : (strips ?? []).length === 0 ? (
        <p className="muted m-auto">Choose a quantity under Watch in the ledger; it is drawn here.</p>
      ) : (
        <div className="flex min-h-0 flex-1">
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          {(strips ?? []).map((strip, i) => (
            <Strip
              key={strip.join(" ")}
              names={strip}
              unit={byStrip[i]?.[0]?.unit ?? ""}
              curves={byStrip[i] ?? []}
              extent={extent}
              current={current}
              last={i === strips!.length - 1}
              marks={marks}
              differences={differences}
              events={events}
              runName={(run) => runs.find((r) => r.id === run)?.name ?? ""}
              onRemove={() => setStrips(strips!.filter((_, k) => k !== i))}
            />
          ))}
        </div>
        {side === "measures" && <Measures view={view} runs={runs} names={names} onClose={() => setSide(null)} />}
        {side === "xy" && <AgainstEachOther view={view} runs={runs} names={names} onClose={() => setSide(null)} />}
        {side === "spectrum" && <SpectrumPanel view={view} runs={runs} names={names} onClose={() => setSide(null)} />}
        {side === "bars" && <Bars view={view} runs={runs} names={names} onClose={() => setSide(null)} />}
        </div>
      )}
    </section>
  );
}

/** What variables of a run change by from mark A to mark B, in the units in which they are shown. */
function useDifferences(run: RunDetail | undefined, strips: string[][] | null): Record<string, number> {
  const { a, b } = useView((s) => s.marks);
  const id = run && run.points > 0 && a !== null && b !== null ? run.id : null;
  const [before, after] = [useValues(id, a), useValues(id, b)];
  return useMemo(() => {
    const found: Record<string, number> = {};
    if (id === null) return found;
    for (const strip of strips ?? []) {
      for (const name of strip) {
        const [first, second] = [before.data?.values[name], after.data?.values[name]];
        const factor = likeFirst(strip, run?.variables ?? [], name)?.factor ?? 1;
        if (typeof first === "number" && typeof second === "number") found[name] = (second - first) * factor;
      }
    }
    return found;
  }, [id, strips, before.data, after.data, run?.variables]);
}

/** Speeds of the replay: seconds of the run's whole span. */
const SPANS = [5, 10, 20, 60];

/** Plays the time cursor over what is shown; sheet and ledger move with it. */
function Play({ extent }: { extent: [number, number] }) {
  const [on, setOn] = useState(false);
  const [span, setSpan] = useState(10);
  const latest = useRef({ extent, span });
  useEffect(() => {
    latest.current = { extent, span };
  }, [extent, span]);
  useEffect(() => {
    if (!on) return;
    let before = performance.now();
    const timer = window.setInterval(() => {
      const now = performance.now();
      const { extent: [low, high], span: seconds } = latest.current;
      const { cursor, setCursor } = useView.getState();
      const next = (cursor === null || cursor >= high ? low : cursor) + ((high - low) * (now - before)) / 1000 / seconds;
      before = now;
      setCursor(Math.min(next, high));
      if (next >= high) setOn(false);
    }, 60);
    return () => window.clearInterval(timer);
  }, [on]);
  return (
    <span className="flex shrink-0 items-center" role="group" aria-label="Replay">
      <button type="button" className="btn btn-ghost btn-xs px-1" onClick={() => setOn(!on)} aria-label={on ? "Pause the replay" : "Replay"} title="Replay: the sheet moves with the time cursor (P)" data-testid="play">
        {on ? <PauseIcon size={13} /> : <PlayIcon size={13} />}
      </button>
      <select className="select select-xs w-16 border-0 px-1" value={span} aria-label="Seconds that the replay takes" title="How long the replay takes" onChange={(event) => setSpan(Number(event.target.value))}>
        {SPANS.map((s) => (
          <option key={s} value={s}>
            {s} s
          </option>
        ))}
      </select>
    </span>
  );
}

/** The marks A and B: set at the time cursor, with what lies between them. */
function Marks({ at }: { at: number | null }) {
  const { marks, setMark } = useView();
  return (
    <span className="flex shrink-0 items-center gap-1" role="group" aria-label="Marks">
      {(["a", "b"] as const).map((which) => (
        <button
          key={which}
          type="button"
          className="btn btn-ghost btn-xs px-1.5 font-normal"
          disabled={at === null && marks[which] === null}
          onClick={() => setMark(which, marks[which] !== null && (at === null || at === marks[which]) ? null : at)}
          title={`Mark ${which.toUpperCase()} at the time cursor (${which.toUpperCase()}); again takes it away`}
          data-testid={`mark-${which}`}
        >
          {which.toUpperCase()}
          {marks[which] !== null && <span className="mono">{formatTime(marks[which])}</span>}
        </button>
      ))}
      {marks.a !== null && marks.b !== null && (
        <span className="mono muted" data-testid="marks-difference">
          Δ {formatTime(marks.b - marks.a)}
        </span>
      )}
    </span>
  );
}

type Side = "measures" | "xy" | "spectrum" | "bars";
const SIDES: [Side, string][] = [["measures", "Measures"], ["xy", "x–y"], ["spectrum", "Spectrum"], ["bars", "Bars"]];

/** Events that are marked at most. */
const MOST_EVENTS = 500;

/** A range once it has stopped moving; while somebody zooms, the curves that are there are stretched. */
function useSettled(range: [number, number] | null): [number, number] | null {
  const [settled, setSettled] = useState(range);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(range), 120);
    return () => window.clearTimeout(timer);
  }, [range]);
  return settled;
}

/** The curves of a run in a range, fetched once for each number of points it has. */
function curvesOnce(cache: QueryClient, run: RunDetail, names: string[], width: number, range: [number, number] | null) {
  return cache.fetchQuery({
    queryKey: keys.curves(run.id, names.join(" "), width, `${run.points} ${range?.join(":") ?? "all"}`),
    queryFn: () => fetchCurves(run.id, names, width, range),
    staleTime: Infinity,
    gcTime: 60_000,
  });
}

type Data = Map<number, Curve[]>;

function namesOf(run: RunDetail, names: string[]): string[] {
  const known = new Set(run.variables.map((v) => v.name));
  return names.filter((name) => known.has(name));
}

function curvesOf(view: ModelView, strip: string[], runs: RunDetail[], data: Data, ghosts: boolean): DrawnCurve[] {
  const faded = fadedRuns(runs);
  return runs.flatMap((run) =>
    strip.flatMap((name, order) => {
      const curve = data.get(run.id)?.find((c) => c.name === name);
      return curve && curve.time.length ? [{ ...drawn(curve, run.id, colourOf(view, run), order, likeFirst(strip, run.variables, name)), faded: ghosts || faded.has(run.id) }] : [];
    }),
  );
}

/** The number under which curves go that follow a dragged value. */
const LIVE = -1;

/** Curves of a value that is being dragged, in the colour of the scenario; kept runs are their ghosts. */
function liveCurves(live: Curve[] | null, strip: string[], runs: RunDetail[], slot: number): DrawnCurve[] {
  return strip.flatMap((name, order) => {
    const curve = live?.find((c) => c.name === name);
    const variable = likeFirst(strip, runs.flatMap((run) => run.variables), name);
    return curve ? [drawn(curve, LIVE, slot, order, variable)] : [];
  });
}

/** The time axis that holds all shown runs. */
function useExtent(runs: RunDetail[], data: Data): [number, number] {
  const starts = [...data.values()].flatMap((curves) => curves.map((c) => c.time[0] ?? 0));
  const ends = runs.map((run) => run.time_reached ?? 0);
  const low = starts.length ? Math.min(0, ...starts) : 0;
  const high = Math.max(...ends, low + 1e-9);
  return useMemo(() => [low, high], [low, high]);
}

function Empty({ canRun, waiting, runs }: { canRun: boolean; waiting: boolean; runs: RunDetail[] }) {
  const failed = runs.find((run) => run.state === "failed");
  if (failed) {
    return (
      <p className="text-error m-auto max-w-2xl px-6" role="alert" data-testid="run-failure">
        ✕ {failed.reason}
      </p>
    );
  }
  if (waiting) return <p className="muted m-auto">Computing…</p>;
  return (
    <p className="muted m-auto text-[15px]" data-testid="recorder-empty">
      {canRun ? "Press Run (Ctrl+Enter): every quantity is recorded, and its curve appears here." : "Nothing has been run yet."}
    </p>
  );
}
