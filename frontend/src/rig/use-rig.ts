import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { ask, client, type ModelView, type Schemas } from "../api/client";

export type RigView = Schemas["RigView"];
export type RigSettings = Schemas["RigSettings"];
export type Signal = Schemas["RigSignal"];

/** The model cut into units, with the signals between them. */
export function useRig(view: ModelView) {
  return useQuery({
    queryKey: ["rig", view.project, view.model, view.mark],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/rig", {
          params: { path: { project: view.project, model: view.model } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}
