import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type RunView, type Schemas } from "../api/client";
import { FINISHED, keys } from "../api/queries";

export type Difference = Schemas["StepDifference"];

/** The newest run of a rig repeated at half the step, and what that changes at each signal. */
export function useStepCheck(run: RunView | undefined, runs: RunView[]) {
  const cache = useQueryClient();
  const [pair, setPair] = useState<[number, number] | null>(null);
  const order = useMutation({
    mutationFn: (id: number) =>
      ask(client.POST("/api/runs/{run}/half-step", { params: { path: { run: id } } })),
    onSuccess: (made) => {
      setPair([run!.id, made.id]);
      void cache.invalidateQueries({ queryKey: keys.runs(made.project, made.model) });
    },
  });
  const half = pair ? runs.find((r) => r.id === pair[1]) : undefined;
  const finished = half !== undefined && FINISHED.includes(half.state);
  const differences = useQuery({
    queryKey: ["step differences", pair],
    queryFn: async () =>
      (
        await ask(
          client.GET("/api/runs/{run}/step-differences/{other}", {
            params: { path: { run: pair![0], other: pair![1] } },
          }),
        )
      ).differences,
    enabled: pair !== null && finished && half.state === "done",
    staleTime: Infinity,
  });
  return {
    order: () => run && order.mutate(run.id),
    waiting: order.isPending || (pair !== null && !finished),
    refusal: order.error
      ? asRefusal(order.error).sentence
      : half?.state === "failed"
        ? half.reason
        : null,
    differences: new Map((differences.data ?? []).map((d) => [`${d.source} ${d.target}`, d])),
    worst: differences.data?.[0],
  };
}

export type StepCheck = ReturnType<typeof useStepCheck>;
