import {
  keepPreviousData,
  useQueries,
  useQuery,
  useQueryClient,
  type QueryClient,
} from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";

import type { Curve, ModelView, RunDetail, RunVariable } from "../api/client";
import { fetchCurves, keys, useValues } from "../api/queries";
import { looksOf, readLook } from "../state/looks";
import { fetchMeasured, isMeasured, MEASURED_RUN, useMeasuredColumns } from "../state/measured";
import { nameThere, useMatches } from "../state/matches";
import { scenarioOf } from "../state/scenarios";
import { usePlace } from "../state/place";
import { RUN_COLOURS, useShownRuns } from "../state/shown-runs";
import { useTime } from "../state/time";
import { drawn, sizeAmong, type DrawnCurve } from "../charts/curves";
import { axesOf, namesOn, type Axis, type StripPlan } from "../state/strip-plan";
import { unitsQuery } from "../charts/units";

/** The number under which curves go that follow a dragged value. */
const LIVE = -1;
/** The colour of measurements, and the dash that stands for points. */
const [INK, POINTS] = [RUN_COLOURS - 1, 2];
/** How much is seen of what stands behind such curves. */
const BEHIND = 0.45;
/** How long a range must stand still, in ms, before its curves are fetched; till then those that are there are stretched. */
const SETTLED = 120;

export type Data = Map<number, Curve[]>;

/** The curves of the shown runs in what is in view and as much again at both sides. */
export function useCurves(
  view: ModelView,
  runs: RunDetail[],
  names: string[],
  width: number,
): Data {
  const matches = useMatches((s) => s.known);
  const settled = useSettledRange();
  const padded =
    settled &&
    ([settled[0] - (settled[1] - settled[0]), settled[1] + (settled[1] - settled[0])] as [
      number,
      number,
    ]);
  const rangeKey = padded ? padded.map((v) => v.toPrecision(6)).join(":") : "all";
  const cache = useQueryClient();
  const now = runs.filter((run) => run.points > 0);
  // A run that grows is fetched anew once its last answer is there, however fast it grows.
  const [wanted, setWanted] = useState(now);
  const same = (one: RunDetail[], other: RunDetail[]) =>
    one.map((run) => run.id).join() === other.map((run) => run.id).join();
  const answer = useQuery({
    queryKey: ["drawn", pointsOf(wanted), names, width, rangeKey, matches],
    queryFn: () =>
      Promise.all(
        wanted.map((run) =>
          curvesOnce(
            cache,
            run,
            (name) => nameThere(matches, view.model, run, name),
            names,
            padded ? width * 3 : width,
            padded,
          ),
        ),
      ),
    enabled: width > 0 && wanted.length > 0 && names.length > 0,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });
  if (!(answer.isFetching && same(wanted, now)) && pointsOf(wanted) !== pointsOf(now))
    setWanted(now);
  const measured = useQuery({
    queryKey: ["measured", view.project, "drawn", names.filter(isMeasured), width, rangeKey],
    queryFn: () =>
      fetchMeasured(view.project, names.filter(isMeasured), padded ? width * 3 : width, padded),
    enabled: width > 0 && names.some(isMeasured),
    placeholderData: keepPreviousData,
  });
  return useMemo(
    () =>
      new Map([
        ...(answer.data ?? []).map((curves) => [curves.run, curves.curves] as const),
        ...(measured.data ? [[MEASURED_RUN, measured.data] as const] : []),
      ]),
    [answer.data, measured.data],
  );
}

function pointsOf(runs: RunDetail[]): string {
  return runs.map((run) => `${run.id}:${run.points}`).join();
}

function useSettledRange(): [number, number] | null {
  const [settled, setSettled] = useState(() => useTime.getState().range);
  useEffect(() => {
    let timer = 0;
    const stop = useTime.subscribe((now, before) => {
      if (now.range === before.range) return;
      window.clearTimeout(timer);
      timer = window.setTimeout(() => setSettled(now.range), SETTLED);
    });
    return () => {
      window.clearTimeout(timer);
      stop();
    };
  }, []);
  return settled;
}

/** The curves of a run in a range, fetched once for each number of points it has; `there` says what it calls a variable. */
async function curvesOnce(
  cache: QueryClient,
  run: RunDetail,
  there: (name: string) => string,
  names: string[],
  width: number,
  range: [number, number] | null,
) {
  const wanted = known(run, [...new Set(names.map(there))]);
  const answer = await cache.fetchQuery({
    queryKey: keys.curves(run.id, wanted, width, `${run.points} ${range?.join(":") ?? "all"}`),
    queryFn: () => fetchCurves(run.id, wanted, width, range),
    staleTime: Infinity,
    gcTime: 60_000,
  });
  const curves = names.flatMap((name) => {
    const curve = answer.curves.find((c) => c.name === there(name));
    return curve ? [curve.name === name ? curve : { ...curve, name }] : [];
  });
  return { run: answer.run, curves };
}

function known(run: RunDetail | undefined, names: string[]): string[] {
  const there = new Set(run?.variables.map((v) => v.name));
  return names.filter((name) => there.has(name));
}

/** A strip with what it shows. */
export interface ShownStrip {
  plan: StripPlan;
  axes: Axis[];
  curves: DrawnCurve[];
}

/** The strips with their axes and curves, those that follow a dragged value above those that are kept. */
export function useStrips(
  view: ModelView,
  strips: StripPlan[] | null,
  runs: RunDetail[],
  data: Data,
): ShownStrip[] {
  const live = useShownRuns((s) => s.live);
  const scenario = usePlace((s) => s.scenario);
  const columns = useMeasuredColumns(
    view.project,
    (strips ?? []).some((s) => s.names.some(isMeasured)),
  ).data;
  const variables = useMemo(
    () =>
      new Map<string, RunVariable>(
        [...(columns ?? []), ...runs.flatMap((run) => run.variables)].map((v) => [v.name, v]),
      ),
    [runs, columns],
  );
  const declared = [
    ...new Set(
      (strips ?? [])
        .filter((s) => s.left || s.right)
        .flatMap((s) => s.names.map((name) => variables.get(name)?.unit ?? "")),
    ),
  ];
  const units = useQueries({ queries: declared.map(unitsQuery) });
  const unitsMark = units.map((u) => u.dataUpdatedAt).join(" ");
  return useMemo(() => {
    const unitsOf = (unit: string) => units[declared.indexOf(unit)]?.data;
    return (strips ?? []).map((plan) => {
      const axes = axesOf(plan, variables, unitsOf, (name) => sizeAmong(data.values(), name));
      const look = looksOf(view, live ? [...runs, ...runs] : runs, plan);
      const kept = runs.flatMap((run) =>
        plan.names.flatMap((name) => {
          const curve = data.get(run.id)?.find((c) => c.name === name);
          if (!curve?.time.length) return [];
          const { slot, dash, shade } = look(run, name);
          return [{ ...drawn(curve, run.id, slot, dash, axes), shade: live ? BEHIND : shade }];
        }),
      );
      const measured = plan.names.flatMap((name) => {
        const curve = data.get(MEASURED_RUN)?.find((c) => c.name === name);
        if (!curve?.time.length) return [];
        const slot = readLook(plan.looks?.[name]).slot ?? INK;
        return [{ ...drawn(curve, MEASURED_RUN, slot, POINTS, axes), dots: true }];
      });
      const following = plan.names.flatMap((name, order) => {
        const curve = live?.find((c) => c.name === name);
        return curve ? [drawn(curve, LIVE, scenarioOf(view, scenario).colour, order, axes)] : [];
      });
      return { plan, axes, curves: [...measured, ...kept, ...following] };
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `unitsMark` stands for `units` and `declared`
  }, [view, strips, runs, data, live, scenario, variables, unitsMark]);
}

/** The time axis that holds all shown runs. */
export function useExtent(runs: RunDetail[], data: Data): [number, number] {
  const starts = [...data.values()].flatMap((curves) => curves.map((c) => c.time[0] ?? 0));
  const low = starts.length ? Math.min(0, ...starts) : 0;
  const high = Math.max(...runs.map((run) => run.time_reached ?? 0), low + 1e-9);
  return useMemo(() => [low, high], [low, high]);
}

/** What variables of a run change by from mark A to mark B, in the units in which they are shown. */
export function useDifferences(
  run: RunDetail | undefined,
  strips: ShownStrip[],
): Record<string, number> {
  const { a, b } = useTime((s) => s.marks);
  const names = useMemo(() => known(run, namesOn(strips.map(({ plan }) => plan))), [run, strips]);
  const id = run && run.points > 0 && a !== null && b !== null ? run.id : null;
  const [before, after] = [useValues(run, names, a), useValues(run, names, b)];
  return useMemo(() => {
    const values: Record<string, number> = {};
    if (id === null) return values;
    for (const { plan, axes } of strips) {
      for (const name of plan.names) {
        const [first, second] = [before.data?.values[name], after.data?.values[name]];
        const unit = run?.variables.find((v) => v.name === name)?.unit;
        const factor = axes.find((axis) => axis.declared === unit)?.factor ?? 1;
        if (typeof first === "number" && typeof second === "number")
          values[name] = (second - first) * factor;
      }
    }
    return values;
  }, [id, strips, before.data, after.data, run?.variables]);
}

/** The names of all curves on the strips, the same list as long as they are the same. */
export function useNames(strips: StripPlan[] | null): string[] {
  return useMemo(() => namesOn(strips), [strips]);
}
