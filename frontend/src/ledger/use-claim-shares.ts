import { useQuery } from "@tanstack/react-query";

import { ask, client, type ModelView } from "../api/client";
import { shareWords } from "../ui/claim-share";

/** In how many points of the newest sweep of a scenario each claim holds, in words. */
export function useClaimShares(view: ModelView, scenario: string): Map<string, string> {
  const list = useQuery({
    queryKey: ["sweeps", view.project, view.model],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/sweeps", {
          params: { path: { project: view.project, model: view.model } },
        }),
      ),
    enabled: view.claims.length > 0,
  });
  const newest = list.data?.sweeps.find((s) => s.state === "done" && s.scenario === scenario);
  return new Map(
    (newest?.claims ?? [])
      .filter((c) => c.hold + c.fail > 0)
      .map((c) => [c.text, `${shareWords(c)} (${newest?.name})`]),
  );
}
