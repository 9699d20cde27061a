import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import { ask, client, type ModelView, type Schemas } from "../api/client";
import { keys } from "../api/queries";
import { usePlace } from "./place";
import { BASE, scenarioOf } from "./scenarios";

type ScenarioRow = Schemas["ScenarioRow"];

/** A model's view with the values of a scenario in its rows and on its symbols; rows keep those of the base beside them. */
export function inScenario(view: ModelView, changed: ScenarioRow[]): ModelView {
  if (!changed.length) return view;
  const byName = new Map(changed.map((row) => [row.name, row]));
  const byPart = new Map<string, ScenarioRow[]>();
  for (const row of changed) byPart.set(row.component, [...(byPart.get(row.component) ?? []), row]);
  return {
    ...view,
    rows: view.rows.map((row) => {
      const now = byName.get(row.name);
      return now
        ? {
            ...row,
            value: now.value,
            shown: now.shown,
            base: { ...row, expression: row.expression },
          }
        : row;
    }),
    sheet: {
      ...view.sheet,
      components: view.sheet.components.map((part) => {
        const own = byPart.get(part.name);
        if (!own) return part;
        const numbers = own.filter((row) => typeof row.value === "number");
        return {
          ...part,
          labels: { ...part.labels, ...Object.fromEntries(own.map((r) => [r.label, r.words])) },
          numbers: {
            ...part.numbers,
            ...Object.fromEntries(numbers.map((r) => [r.label, r.value as number])),
          },
        };
      }),
    },
  };
}

/** A class as one of its instances: the values of that one stand beside what the class says, and on its symbols. */
export function asInstance(view: ModelView, instance: string, values: ScenarioRow[]): ModelView {
  const here = new Map(values.map((row) => [row.name, row.words]));
  const { sheet } = inScenario(view, values);
  const rows = view.rows.map((row) =>
    here.has(row.name) ? { ...row, here: here.get(row.name)! } : row,
  );
  return { ...view, sheet, rows, instance, scenarios: [] };
}

/** A class as it is inside the model that is run, in the chosen scenario; the same when one did not step in. */
export function useAsInstance(view: ModelView, whole: ModelView, instance: string): ModelView {
  const { name } = scenarioOf(
    whole,
    usePlace((s) => s.scenario),
  );
  const values = useQuery({
    queryKey: keys.instanceValues({ ...view, instance }, whole, name),
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/instance", {
          params: {
            path: { project: view.project, model: view.model },
            query: { whole: whole.model, instance, scenario: name },
          },
        }),
      ),
    enabled: instance !== "",
    retry: false,
  });
  const rows = values.data?.rows;
  return useMemo(
    () => (instance ? asInstance(view, instance, rows ?? []) : view),
    [view, instance, rows],
  );
}

/** The view of a model as the chosen scenario has it. */
export function useInScenario(view: ModelView): ModelView {
  const { name } = scenarioOf(
    view,
    usePlace((s) => s.scenario),
  );
  const changed = useQuery({
    queryKey: keys.scenarioValues(view.project, view.model, view.mark, name),
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/scenario", {
          params: {
            path: { project: view.project, model: view.model },
            query: { scenario: name },
          },
        }),
      ),
    enabled: name !== BASE,
    // After an edit the values of the same scenario stay until the new ones are there.
    placeholderData: (before, query) => (query?.queryKey.at(-1) === name ? before : undefined),
    retry: false,
  });
  const rows = name === BASE ? undefined : changed.data?.rows;
  return useMemo(() => inScenario(view, rows ?? []), [view, rows]);
}
