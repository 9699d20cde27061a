import { useMutation, useQueryClient } from "@tanstack/react-query";

import { ask, client, type RunView, type Schemas } from "../api/client";
import { keys } from "../api/queries";

/** Changes what people say about a run. */
export function useRunChange(run: RunView) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["RunWords"]) =>
      ask(client.PATCH("/api/runs/{run}", { params: { path: { run: run.id } }, body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: keys.runs(run.project, run.model) }),
  });
}
