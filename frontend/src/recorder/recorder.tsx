import { ChevronDown, ChevronRight } from "lucide-react";
import { useLayoutEffect, useMemo, useRef, useState } from "react";

import type { ModelView, RunDetail, RunView } from "../api/client";
import { ReportMenu } from "../report/report-menu";
import { RunChips } from "../runs/run-chips";
import { isMeasured, MEASURED_RUN } from "../state/measured";
import { useShownRuns } from "../state/shown-runs";
import { useStripPlans } from "../state/strips";
import { TimeUnit } from "./time-unit";
import { useTimeUnit } from "./use-time-unit";
import { MOST_EVENTS, withoutTicks } from "../state/ticks";
import { useTime } from "../state/time";
import { AddCurve } from "./add-curve";
import { zoomAround } from "./chart";
import { useCurveDrop } from "./dragging";
import { ExportMenu } from "./export-menu";
import { CursorTime, Marks, Play, Zoomed } from "./header-parts";
import { FilmMenu } from "./film-menu";
import { LayoutsMenu } from "./layouts-menu";
import { Measures } from "./measures";
import { keyOf } from "../state/strip-plan";
import { AgainstEachOther, Bars, SpectrumPanel } from "./side-panel";
import { Strip } from "./strip";
import { useCurves, useDifferences, useExtent, useNames, useStrips } from "./use-curves";

interface Props {
  view: ModelView;
  /** The newest runs of the model and those that are shown, and how many the model has. */
  list: RunView[];
  count: number;
  /** The shown runs. */
  runs: RunDetail[];
  canRun: boolean;
  /** Whether only its header is seen. */
  folded: boolean;
  onFold: () => void;
  onFault: (sentence: string) => void;
}

/** The charts under the sheet: strips that share one time axis and one time cursor. */
export function Recorder({ view, list, count, runs, canRun, folded, onFold, onFault }: Props) {
  const marks = useTime((s) => s.marks);
  const strips = useStripPlans((s) => s.strips);
  const current = useShownRuns((s) => s.current);
  const host = useRef<HTMLDivElement>(null);
  const width = useWidth(host);
  const [side, setSide] = useState<Side | null>(null);
  const names = useNames(strips);
  const data = useCurves(view, runs, names, width);
  const extent = useExtent(runs, data);
  const shown = useStrips(view, strips, runs, data);
  const timeUnit = useTimeUnit(view, extent);
  const events = useMemo(
    () =>
      withoutTicks(runs.find((run) => run.id === current)?.events ?? []).events.slice(
        0,
        MOST_EVENTS,
      ),
    [runs, current],
  );
  const states = useMemo(
    () =>
      shown.map(({ curves, axes }) => ({
        curves,
        axes,
        extent,
        marks,
        events,
        current,
        timeUnit,
      })),
    [shown, extent, marks, events, current, timeUnit],
  );
  const differences = useDifferences(
    runs.find((run) => run.id === current),
    shown,
  );
  const nothing = count === 0 && runs.length === 0;
  const room = shown.some(({ axes }) => axes.length > 1);
  const runName = (id: number) =>
    id === MEASURED_RUN ? "measured" : (runs.find((run) => run.id === id)?.name ?? "");
  /** What runs have, without what was measured. */
  const computed = useMemo(() => names.filter((name) => !isMeasured(name)), [names]);

  const onKey = (event: React.KeyboardEvent) => {
    if (
      (event.target as HTMLElement).closest("input, select, textarea") ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey
    )
      return;
    const { range, cursor, hover, setCursor, setMark, setRange, zoomBack } = useTime.getState();
    const [min, max] = range ?? extent;
    const step = (max - min) / (event.shiftKey ? 20 : 200);
    const middle = cursor !== null && cursor > min && cursor < max ? cursor : (min + max) / 2;
    const actions: Record<string, () => void> = {
      ArrowRight: () => setCursor(Math.min(extent[1], (cursor ?? min) + step)),
      ArrowLeft: () => setCursor(Math.max(extent[0], (cursor ?? min) - step)),
      Home: () => setCursor(extent[0]),
      End: () => setCursor(extent[1]),
      Escape: () => setCursor(null),
      "0": () => setRange(null),
      "+": () => zoomAround(middle, 0.8, extent),
      "-": () => zoomAround(middle, 1.25, extent),
      Backspace: zoomBack,
      a: () => setMark("a", hover ?? cursor),
      b: () => setMark("b", hover ?? cursor),
      p: () => document.querySelector<HTMLElement>('[data-testid="play"]')?.click(),
      f: () => document.querySelector<HTMLElement>('[data-testid="add-curve"]')?.click(),
      m: () => setSide((now) => (now === "measures" ? null : "measures")),
    };
    const action = actions[event.key];
    if (!action) return;
    action();
    event.preventDefault();
  };

  return (
    <div
      ref={host}
      role="region"
      className="flex h-full flex-col bg-base-100"
      aria-label="Recorder"
      data-testid="recorder"
      data-drawn={runs
        .filter((run) => data.get(run.id)?.length)
        .map((run) => run.id)
        .join(" ")}
      tabIndex={0}
      onKeyDown={onKey}
      data-own-keys
    >
      <div className="flex items-center gap-2 px-3 py-1">
        <button
          type="button"
          className="btn btn-ghost btn-xs -ml-1 px-0.5"
          onClick={onFold}
          disabled={nothing}
          aria-expanded={!folded}
          aria-label={folded ? "Unfold the recorder" : "Fold the recorder"}
          title={folded ? "Unfold the recorder" : "Fold the recorder"}
          data-testid="fold-recorder"
        >
          {folded ? <ChevronRight size={14} /> : <ChevronDown size={14} />}
        </button>
        <h2 className="font-semibold">Recorder</h2>
        {nothing ? (
          <p className="muted" data-testid="recorder-empty">
            {canRun
              ? "Press Run (Ctrl+Enter): every quantity is recorded, and its curve appears here."
              : "Nothing has been run yet."}
          </p>
        ) : (
          <>
            <CursorTime extent={extent} events={events} />
            <Zoomed />
            <RunChips view={view} runs={list} count={count} />
            <Play extent={extent} />
            <FilmMenu
              view={view}
              run={runs.find((run) => run.id === current)}
              strips={shown}
              extent={extent}
              runName={runName}
            />
            <Marks />
            <TimeUnit view={view} unit={timeUnit} onFault={onFault} />
            <select
              className="select select-xs w-24 border-0"
              value={side ?? ""}
              aria-label="Side panel"
              title="What is shown beside the strips (M: measures)"
              onChange={(event) => setSide((event.target.value || null) as Side | null)}
              data-testid="beside"
            >
              <option value="">Side panel</option>
              {SIDES.map(([key, words]) => (
                <option key={key} value={key}>
                  {words}
                </option>
              ))}
            </select>
            <AddCurve project={view.project} runs={runs} />
            <LayoutsMenu
              view={view}
              made={runs.find((run) => run.layout.length > 0)?.layout ?? []}
              onFault={onFault}
            />
            <ExportMenu runs={runs} names={computed} />
            <ReportMenu view={view} runs={runs} />
          </>
        )}
      </div>
      {runs.length === 0 || (data.size === 0 && names.length > 0) ? (
        <Empty waiting={runs.length > 0} runs={runs} />
      ) : shown.length === 0 ? (
        <p className="muted m-auto" data-testid="no-strips">
          Choose a quantity under Watch in the ledger, or find one with “+ Curve”; it is drawn here.
        </p>
      ) : (
        <div className="flex min-h-0 flex-1">
          <div className="flex min-h-0 min-w-0 flex-1 flex-col overflow-y-auto">
            {shown.map(({ plan, axes }, i) => (
              <Strip
                key={keyOf(plan)}
                plan={plan}
                axes={axes}
                state={states[i]!}
                last={i === shown.length - 1}
                room={room}
                differences={differences}
                runName={runName}
              />
            ))}
            <NewStrip />
          </div>
          {side === "measures" && (
            <Measures view={view} runs={runs} names={computed} onClose={() => setSide(null)} />
          )}
          {side === "xy" && (
            <AgainstEachOther
              view={view}
              runs={runs}
              names={computed}
              onClose={() => setSide(null)}
            />
          )}
          {side === "spectrum" && (
            <SpectrumPanel view={view} runs={runs} names={computed} onClose={() => setSide(null)} />
          )}
          {side === "bars" && (
            <Bars view={view} runs={runs} names={computed} onClose={() => setSide(null)} />
          )}
        </div>
      )}
    </div>
  );
}

/** The width of the strips' drawing area, in steps, so that a small change does not fetch the curves anew. */
function useWidth(host: React.RefObject<HTMLDivElement | null>): number {
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    if (!host.current) return;
    const inSteps = (whole: number) =>
      setWidth(Math.max(200, Math.round((whole - 220) / 100) * 100));
    inSteps(host.current.clientWidth);
    const watcher = new ResizeObserver(([entry]) => inSteps(entry!.contentRect.width));
    watcher.observe(host.current);
    return () => watcher.disconnect();
  }, [host]);
  return width;
}

/** The edge under the strips: a curve that is dropped here gets a strip of its own. */
function NewStrip() {
  const { over, handlers } = useCurveDrop(null);
  return (
    <div
      className={`flex h-2.5 shrink-0 items-center pl-3 text-[11px] ${over ? "h-6 bg-base-200 outline-2 -outline-offset-2 outline-primary" : ""}`}
      {...handlers}
      data-testid="new-strip"
    >
      {over && "a strip of its own"}
    </div>
  );
}

type Side = "measures" | "xy" | "spectrum" | "bars";
const SIDES: [Side, string][] = [
  ["measures", "Measures"],
  ["xy", "x–y"],
  ["spectrum", "Spectrum"],
  ["bars", "Bars"],
];

function Empty({ waiting, runs }: { waiting: boolean; runs: RunDetail[] }) {
  const failed = runs.find((run) => run.state === "failed");
  if (failed) {
    return (
      <p className="text-error m-auto max-w-2xl px-6" role="alert" data-testid="run-failure">
        ✕ {failed.reason}
      </p>
    );
  }
  return waiting ? <p className="muted m-auto">Computing…</p> : null;
}
