import { useQuery } from "@tanstack/react-query";

import { ask, client, type ModelView } from "../api/client";
import { keys } from "../api/queries";

/** The states of an analysis that goes on. */
export const UNDER_WAY = ["waiting", "running", "stopping"];

/** What was asked of a model, newest first, without results; looked at again while something goes on. */
export function useAnalyses(view: Pick<ModelView, "project" | "model">) {
  return useQuery({
    queryKey: keys.analyses(view.project, view.model),
    queryFn: async () =>
      (
        await ask(
          client.GET("/api/projects/{project}/models/{model}/analyses", {
            params: { path: { project: view.project, model: view.model } },
          }),
        )
      ).analyses,
    refetchInterval: (query) =>
      query.state.data?.some((a) => UNDER_WAY.includes(a.state)) ? 600 : false,
  });
}
