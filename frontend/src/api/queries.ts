import {
  keepPreviousData,
  useInfiniteQuery,
  useQuery,
  useQueryClient,
  type InfiniteData,
  type QueryClient,
} from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import {
  ask,
  client,
  type ModelView,
  type ProjectView,
  type Schemas,
  type SeenRun,
} from "./client";
import { complete } from "./complete";

export const keys = {
  projects: ["projects"] as const,
  moreModels: (project: number) => ["projects", "more", project] as const,
  model: (project: number, model: string) => ["model", project, model] as const,
  drawing: (project: number, model: string, revision: number) =>
    ["drawing", project, model, revision] as const,
  text: (project: number, model: string, revision: number) =>
    ["text", project, model, revision] as const,
  scenarioValues: (project: number, model: string, mark: string, scenario: string) =>
    ["scenario values", project, model, mark, scenario] as const,
  instanceValues: (view: ModelView, whole: ModelView, scenario: string) =>
    ["instance values", view.project, view.mark, whole.mark, view.instance, scenario] as const,
  runs: (project: number, model: string) => ["runs", project, model] as const,
  run: (run: number) => ["run", run] as const,
  /** What was announced of a run that is under way. */
  stepping: (run: number) => ["stepping", run] as const,
  /** Whether somebody let a run stand still. */
  paused: (run: number) => ["paused", run] as const,
  curves: (run: number, names: string[], width: number, range: string) =>
    ["curves", run, names, width, range] as const,
  analyses: (project: number, model: string) => ["analyses", project, model] as const,
  analysis: (analysis: number) => ["analysis", analysis] as const,
  sweeps: (project: number, model: string) => ["sweeps", project, model] as const,
  foreignUnits: (project: number) => ["foreign units", project] as const,
  foreignUnit: (unit: number) => ["foreign unit", unit] as const,
  values: (run: number, names: string[], at: number) => ["values", run, names, at] as const,
};

/** The solver's last step in s and the events so far, with the moment at which they were heard in ms. */
export interface Stepping {
  step: number;
  events: number;
  at: number;
}

export function useProjects() {
  return useQuery({ queryKey: keys.projects, queryFn: () => ask(client.GET("/api/projects")) });
}

/** The models of a project beyond those that its list came with, a page at a time, when they are asked for. */
export function useMoreModels(project: ProjectView) {
  return useInfiniteQuery({
    queryKey: keys.moreModels(project.id),
    queryFn: ({ pageParam }) =>
      ask(
        client.GET("/api/projects/{project}/models", {
          params: { path: { project: project.id }, query: { offset: pageParam } },
        }),
      ),
    enabled: false,
    initialPageParam: project.models.length,
    getNextPageParam: (last, pages) =>
      last.more > 0
        ? project.models.length + pages.reduce((sum, page) => sum + page.models.length, 0)
        : undefined,
    retry: false,
  });
}

/** Fetch one model of the start page anew; the whole list where it is not in it. */
export async function refreshTile(cache: QueryClient, project: number, model: string) {
  const list = cache.getQueryData<Schemas["ProjectList"]>(keys.projects);
  const more = cache.getQueryData<InfiniteData<Schemas["ModelPage"]>>(keys.moreModels(project));
  if (!list) return; // nobody looks at it
  const shown = [
    ...(list.projects.find((p) => p.id === project)?.models ?? []),
    ...(more?.pages.flatMap((page) => page.models) ?? []),
  ];
  const params = { path: { project, model } };
  const path = "/api/projects/{project}/models/{model}/summary";
  const fresh = shown.some((m) => m.model === model)
    ? await ask(client.GET(path, { params })).catch(() => null)
    : null;
  if (!fresh) return cache.invalidateQueries({ queryKey: keys.projects });
  const changed = (models: Schemas["ModelSummary"][]) =>
    models.map((m) => (m.model === model ? fresh : m));
  cache.setQueryData<Schemas["ProjectList"]>(
    keys.projects,
    (old) =>
      old && {
        projects: old.projects.map((p) =>
          p.id === project ? { ...p, models: changed(p.models) } : p,
        ),
      },
  );
  cache.setQueryData<InfiniteData<Schemas["ModelPage"]>>(
    keys.moreModels(project),
    (old) =>
      old && {
        ...old,
        pages: old.pages.map((page) => ({ ...page, models: changed(page.models) })),
      },
  );
}

/** The small drawing of a model, once it is to be seen; what parts of other files look like may be a minute old. */
export function useDrawing(project: number, model: string, revision: number, seen: boolean) {
  return useQuery({
    queryKey: keys.drawing(project, model, revision),
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/drawing", {
          params: { path: { project, model } },
        }),
      ),
    enabled: seen,
    staleTime: 60_000,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useModel(project: number, model: string) {
  const cache = useQueryClient();
  return useQuery({
    queryKey: keys.model(project, model),
    queryFn: async () => {
      const known = cache.getQueryData<ModelView>(keys.model(project, model));
      const params = { path: { project, model }, query: { known: known?.mark ?? "" } };
      return complete(
        await ask(client.GET("/api/projects/{project}/models/{model}", { params })),
        known,
      );
    },
    retry: false,
  });
}

export function useText(project: number, model: string, revision: number) {
  return useQuery({
    queryKey: keys.text(project, model, revision),
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/text", {
          params: { path: { project, model } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

export function useRuns(project: number, model: string) {
  return useQuery({
    queryKey: keys.runs(project, model),
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/runs", {
          params: { path: { project, model } },
        }),
      ),
    // Announcements come at once; asking now and then makes up for one that came too early.
    refetchInterval: (query) =>
      query.state.data?.runs.some((run) => !FINISHED.includes(run.state)) ? 700 : false,
  });
}

/** States in which nothing more will happen to a run by itself. */
export const FINISHED: Schemas["RunState"][] = ["done", "failed", "stopped"];

export function fetchRun(run: number) {
  return ask(client.GET("/api/runs/{run}", { params: { path: { run } } }));
}

export function fetchCurves(
  run: number,
  names: string[],
  width: number,
  range: [number, number] | null,
) {
  const body = { names, width, ...(range ? { low: range[0], high: range[1] } : {}) };
  return ask(client.POST("/api/runs/{run}/curves", { params: { path: { run } }, body }));
}

export function fetchValues(run: number, names: string[], at: number) {
  return ask(
    client.POST("/api/runs/{run}/values", { params: { path: { run } }, body: { names, at } }),
  );
}

/** The name that a variable has in the run, and the one that it has where the run is seen from. */
export function nameInRun(run: Pick<SeenRun, "instance"> | undefined, name: string): string {
  return run?.instance ? `${run.instance}.${name}` : name;
}

type ValuesOf = Pick<SeenRun, "id" | "points" | "instance">;

/** The values of some variables at an instant; those of the instant before stay until they are there. */
export function useValues(run: ValuesOf | undefined, names: string[], at: number | null) {
  const full = names.map((name) => nameInRun(run, name));
  // While an answer is on its way the next instant waits: else a run that grows faster than answers come showed none.
  const [asked, setAsked] = useState({ run: run?.id, at });
  const instant = asked.run === run?.id ? asked.at : at;
  const answer = useQuery({
    queryKey: keys.values(run?.id ?? 0, full, instant ?? 0),
    queryFn: async () => {
      const { values, ...rest } = await fetchValues(run!.id, full, instant!);
      return {
        ...rest,
        values: Object.fromEntries(names.map((name, i) => [name, values[full[i]!] ?? null])),
      };
    },
    enabled: !!run && run.points > 0 && instant !== null && names.length > 0,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 20_000,
  });
  if (!answer.isFetching && (asked.run !== run?.id || asked.at !== at))
    setAsked({ run: run?.id, at });
  return answer;
}

/** The sweeps of a model, newest first; they are looked at again while one is under way. */
export function useSweeps({ project, model }: Pick<ModelView, "project" | "model">, wanted = true) {
  return useQuery({
    queryKey: keys.sweeps(project, model),
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/sweeps", {
          params: { path: { project, model } },
        }),
      ),
    enabled: wanted,
    refetchInterval: ({ state }) =>
      state.data?.sweeps.some((s) => s.state === "running") ? 1000 : false,
  });
}

export function shelfQuery(project: number, model: string) {
  return {
    queryKey: ["shelf", project, model],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/shelf", {
          params: { path: { project }, query: { model } },
        }),
      ),
    staleTime: 60_000,
  };
}

/** Everything that can be put on the sheet of a model. */
export function useShelf(project: number, model: string, revision: number) {
  const cache = useQueryClient();
  const shelf = useQuery(shelfQuery(project, model));
  const asked = useRef(revision);
  useEffect(() => {
    // An edit may add classes; what was there stays until the answer comes.
    if (asked.current === revision) return;
    asked.current = revision;
    void cache.invalidateQueries({ queryKey: ["shelf", project, model] });
  }, [cache, project, model, revision]);
  return shelf;
}

/** What pasting a text would give: how many values, and the lines that give none. */
export function readValues(view: Pick<ModelView, "project" | "model">, text: string) {
  return ask(
    client.POST("/api/projects/{project}/models/{model}/figures/read", {
      params: { path: { project: view.project, model: view.model } },
      body: { text },
    }),
  );
}
