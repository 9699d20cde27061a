import { useQuery } from "@tanstack/react-query";

import type { RunVariable, SeenRun } from "../api/client";
import { FINISHED, fetchCurves, useValues } from "../api/queries";
import { useInstant } from "../state/instant";

/** A value as it is shown, with its unit; none while there is none. */
export interface Shown {
  value: number | null;
  unit: string;
}

/** Values of a run at the time cursor, or, while it runs and nobody looks at another time, at its newest instant. */
export function useLiveValues(run: SeenRun | undefined, names: string[]) {
  const instant = useInstant();
  const going = run !== undefined && !FINISHED.includes(run.state);
  const at = going ? (run.time_reached ?? null) : (instant ?? run?.time_reached ?? null);
  const variables = new Map((run?.variables ?? []).map((v) => [v.name, v]));
  const known = names.filter((name) => variables.has(name));
  const answer = useValues(run, known, at);
  const shown = (name: string): Shown => {
    const v = variables.get(name);
    const raw = answer.data?.values[name];
    return {
      value: v && typeof raw === "number" ? asShown(v, raw) : null,
      unit: v?.shown_unit ?? "",
    };
  };
  return { shown, at, going, known: (name: string) => variables.has(name) };
}

export function asShown(v: RunVariable, value: number): number {
  return value * v.factor + v.offset;
}

/** The curves of some variables of a run, thinned for a width; fetched anew as the run grows. */
export function useBoardCurves(run: SeenRun | undefined, names: string[], width: number) {
  return useQuery({
    queryKey: ["board curves", run?.id, run?.points, names, width],
    queryFn: () => fetchCurves(run!.id, names, width, null),
    enabled: !!run && run.points > 1 && names.length > 0 && width > 0,
    staleTime: Infinity,
    gcTime: 10_000,
    placeholderData: (before) => before,
  });
}
