import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import type { RunDetail, Schemas } from "./client";
import { listen } from "./events";
import { keys, refreshTile, type Stepping } from "./queries";

interface News {
  kind: string;
  run?: number;
  unit?: number;
  analysis?: number;
  project?: number;
  model?: string;
  revision?: number;
  state?: string;
  progress?: number;
  points?: number;
  time_reached?: number;
  step?: number;
  event_count?: number;
  sentence?: string;
  file?: string;
  paused?: boolean;
}

/** What is done with a sentence about the files of a project. */
export type Tell = (project: number, sentence: string, file?: string, revision?: number) => void;

/** Keep what is shown in step with what the server announces. */
export function useLive(tell: Tell): void {
  const cache = useQueryClient();
  useEffect(() => {
    return listen((text) => {
      const news = JSON.parse(text) as News;
      if (news.kind === "folder")
        tell(news.project ?? 0, news.sentence ?? "", news.file, news.revision);
      else hear(cache, news);
    });
  }, [cache, tell]);
}

function hear(cache: QueryClient, news: News, later = false): void {
  if (news.kind === "reconnected") {
    void cache.invalidateQueries();
  } else if (news.kind === "run" && news.run !== undefined) {
    noteProgress(cache, news);
    if (news.state === "running") return;
    // What the curve needs was in the announcement; the rest is fetched when it is on the screen.
    const known = (cache.getQueryData<RunDetail>(keys.run(news.run))?.variables.length ?? 0) > 0;
    window.setTimeout(() => catchUp(cache, news), known && news.state === "done" ? AFTERWARDS : 0);
  } else if (news.kind === "model" && news.project !== undefined && news.model !== undefined) {
    if (!later && cache.isMutating({ mutationKey: ["edit", news.project, news.model] }) > 0) {
      // Probably one's own edit, whose answer is on its way.
      window.setTimeout(() => hear(cache, news, true), 400);
      return;
    }
    // Models of a project are made of each other, and several may share a file.
    const known = cache.getQueryData<{ revision: number }>(keys.model(news.project, news.model));
    void cache.invalidateQueries({
      queryKey: ["model", news.project],
      predicate: (query) => query.queryKey[2] !== news.model || known?.revision !== news.revision,
    });
    void refreshTile(cache, news.project, news.model);
  } else if (news.kind === "analysis" && news.analysis !== undefined) {
    void cache.invalidateQueries({ queryKey: keys.analysis(news.analysis) });
    void cache.invalidateQueries({ queryKey: keys.analyses(news.project ?? 0, news.model ?? "") });
  } else if (news.kind === "foreign unit" && news.project !== undefined) {
    void cache.invalidateQueries({ queryKey: keys.foreignUnits(news.project) });
    void cache.invalidateQueries({ queryKey: keys.foreignUnit(news.unit ?? 0) });
    // What a model computes may have changed with a file beside it.
    if (news.state === "new" || news.state === "gone")
      void cache.invalidateQueries({ queryKey: ["model", news.project] });
  } else if (news.kind === "project") {
    void cache.invalidateQueries({ queryKey: keys.projects });
  }
}

/** Milliseconds in which the curve of a run that ended has the server to itself. */
const AFTERWARDS = 250;

function catchUp(cache: QueryClient, news: News): void {
  void refresh(cache, news.run!);
  if (news.project !== undefined && news.model !== undefined) {
    void cache.invalidateQueries({ queryKey: keys.runs(news.project, news.model) });
    void refreshTile(cache, news.project, news.model);
  }
}

/** Fetch a run and its curves anew, even while an older answer is on its way. */
async function refresh(cache: QueryClient, run: number): Promise<void> {
  await cache.cancelQueries({ queryKey: keys.run(run) });
  await cache.invalidateQueries({ queryKey: keys.run(run) });
  void cache.invalidateQueries({ queryKey: ["values", run] });
}

/** Show what an announcement says at once, without asking. */
function noteProgress(cache: QueryClient, news: News): void {
  const { state, progress, points, time_reached, step, paused } = news;
  if (paused !== undefined) cache.setQueryData<boolean>(keys.paused(news.run!), paused);
  if (step !== undefined)
    cache.setQueryData<Stepping>(keys.stepping(news.run!), {
      step,
      events: news.event_count ?? 0,
      at: Date.now(),
    });
  const change = Object.fromEntries(
    Object.entries({ state, progress, points, time_reached }).filter(
      ([, value]) => value !== undefined,
    ),
  );
  cache.setQueriesData<Schemas["RunList"]>(
    { queryKey: ["runs"] },
    (list) =>
      list && {
        ...list,
        runs: list.runs.map((run) => (run.id === news.run ? { ...run, ...change } : run)),
      },
  );
  // The variables of a run are known from its beginning on; only then can its curves be asked for.
  cache.setQueryData<RunDetail>(keys.run(news.run!), (run) =>
    run?.variables.length ? { ...run, ...change } : run,
  );
  if (state === "running" && !cache.getQueryData<RunDetail>(keys.run(news.run!))?.variables.length)
    void refresh(cache, news.run!);
}
