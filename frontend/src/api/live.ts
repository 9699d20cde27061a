import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import type { RunView } from "./client";
import { keys } from "./queries";

interface News {
  kind: string;
  run?: number;
  project?: number;
  model?: string;
  revision?: number;
  state?: string;
  progress?: number;
}

/** Keep what is shown in step with what the server announces. */
export function useLive(): void {
  const cache = useQueryClient();
  useEffect(() => {
    const source = new EventSource("/api/events");
    let first = true;
    source.addEventListener("ready", () => {
      // After a break anything may have changed.
      if (!first) void cache.invalidateQueries();
      first = false;
    });
    source.onmessage = (message: MessageEvent<string>) => hear(cache, JSON.parse(message.data) as News);
    return () => source.close();
  }, [cache]);
}

function hear(cache: QueryClient, news: News): void {
  if (news.kind === "reconnected") {
    void cache.invalidateQueries();
  } else if (news.kind === "run" && news.run !== undefined) {
    noteProgress(cache, news);
    if (news.project !== undefined && news.model !== undefined) {
      void cache.invalidateQueries({ queryKey: keys.runs(news.project, news.model) });
    }
    void refresh(cache, news.run);
    if (news.state !== "running") void cache.invalidateQueries({ queryKey: keys.projects });
  } else if (news.kind === "model" && news.project !== undefined && news.model !== undefined) {
    const known = cache.getQueryData<{ revision: number }>(keys.model(news.project, news.model));
    if (known?.revision !== news.revision) {
      void cache.invalidateQueries({ queryKey: keys.model(news.project, news.model) });
    }
    void cache.invalidateQueries({ queryKey: keys.projects });
  } else if (news.kind === "project") {
    void cache.invalidateQueries({ queryKey: keys.projects });
  }
}

/** Fetch a run and its curves anew, even while an older answer is on its way. */
async function refresh(cache: QueryClient, run: number): Promise<void> {
  await cache.cancelQueries({ queryKey: keys.run(run) });
  await cache.invalidateQueries({ queryKey: keys.run(run) });
  void cache.invalidateQueries({ queryKey: ["curves", run] });
  void cache.invalidateQueries({ queryKey: ["values", run] });
}

/** Show progress in the list of runs at once, without asking. */
function noteProgress(cache: QueryClient, news: News): void {
  const change = { ...(news.state ? { state: news.state } : {}), ...(news.progress !== undefined ? { progress: news.progress } : {}) };
  cache.setQueriesData<{ runs: RunView[] }>({ queryKey: ["runs"] }, (list) =>
    list && { runs: list.runs.map((run) => (run.id === news.run ? { ...run, ...change } : run)) },
  );
}
