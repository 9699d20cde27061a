import { useEffect, useLayoutEffect, useRef } from "react";
import type uPlot from "uplot";

import { useTheme } from "../ui/theme";
import { applyRange, makeChart, type ChartState } from "./chart";
import { useTime } from "../state/time";
import { keyOf, type Axis, type StripPlan } from "../state/strip-plan";
import { StripHead } from "./strip-head";

export interface StripProps {
  plan: StripPlan;
  axes: Axis[];
  state: ChartState;
  last: boolean;
  /** Whether some strip has an axis at the right, so that all end at the same place. */
  room: boolean;
  /** What the variables of the current run change by from A to B, in the shown unit. */
  differences: Record<string, number>;
  runName: (run: number) => string;
}

/** One chart of the recorder with what belongs to it; all strips share the time axis and the cursor. */
export function Strip({ plan, axes, state, last, room, differences, runName }: StripProps) {
  const host = useRef<HTMLDivElement>(null);
  const chart = useRef<uPlot | null>(null);
  const [theme] = useTheme();
  const latest = useRef(state);
  useLayoutEffect(() => {
    latest.current = state;
  });
  const second = axes.length > 1;
  const { logarithmic } = plan;
  useEffect(() => {
    const element = host.current!;
    const made = makeChart(element, { last, logarithmic, second, room }, () => latest.current);
    chart.current = made;
    applyRange(made, latest.current.extent);
    const watcher = new ResizeObserver(() =>
      made.setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    watcher.observe(element);
    // What moves at every frame goes past React.
    const stop = useTime.subscribe((now, before) => {
      if (now.range !== before.range) applyRange(made, latest.current.extent);
      else if (now.cursor !== before.cursor) made.redraw(false);
    });
    void document.fonts.ready.then(() => chart.current === made && made.redraw(false, true));
    return () => {
      stop();
      watcher.disconnect();
      made.destroy();
      chart.current = null;
    };
  }, [theme, last, logarithmic, second, room]);

  useEffect(() => {
    if (chart.current) applyRange(chart.current, state.extent);
  }, [state]);

  return (
    <div
      className="rule-t relative flex min-h-16 flex-1"
      data-testid="strip"
      role="group"
      aria-label={`Strip of ${plan.names.join(", ")}`}
    >
      <StripHead
        plan={plan}
        axes={axes}
        state={state}
        differences={differences}
        runName={runName}
      />
      <div
        ref={host}
        className="min-h-0 min-w-0 flex-1"
        data-testid={`chart-${keyOf(plan).replaceAll(" ", "-")}`}
      />
    </div>
  );
}
