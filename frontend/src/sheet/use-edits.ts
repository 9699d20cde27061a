import { useMutation, useQueryClient } from "@tanstack/react-query";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { keys } from "../api/queries";
import { useView } from "../workspace/state";

type Wire = Schemas["WireEnds"];

/** What can be done to the sheet; each answers with the model as it is now, or says why not. */
export type Edit =
  | { do: "insert"; class: string; x: number; y: number }
  | { do: "move"; places: Schemas["PartPlace"][] }
  | { do: "rename"; name: string; new: string }
  | { do: "delete"; parts: string[]; wires: Wire[] }
  | { do: "connect"; from: string; to: string }
  | { do: "setting"; name: string; text: string }
  | { do: "text"; text: string };

function send(view: ModelView, edit: Edit): Promise<ModelView> {
  const params = { path: { project: view.project, model: view.model } };
  const revision = view.revision;
  switch (edit.do) {
    case "insert":
      return ask(
        client.POST("/api/projects/{project}/models/{model}/parts", { params, body: { revision, class: edit.class, x: edit.x, y: edit.y } }),
      );
    case "move":
      return ask(client.POST("/api/projects/{project}/models/{model}/parts/move", { params, body: { revision, places: edit.places } }));
    case "rename":
      return ask(
        client.POST("/api/projects/{project}/models/{model}/parts/name", { params, body: { revision, name: edit.name, new: edit.new } }),
      );
    case "delete":
      return ask(
        client.POST("/api/projects/{project}/models/{model}/delete", { params, body: { revision, parts: edit.parts, wires: edit.wires } }),
      );
    case "connect":
      return ask(client.POST("/api/projects/{project}/models/{model}/wires", { params, body: { revision, from: edit.from, to: edit.to } }));
    case "setting":
      return ask(
        client.POST("/api/projects/{project}/models/{model}/settings", { params, body: { revision, name: edit.name, text: edit.text } }),
      );
    case "text":
      return ask(client.POST("/api/projects/{project}/models/{model}/text", { params, body: { revision, text: edit.text } }));
  }
}

/** Sends edits of a model one after the other, always against its newest revision. */
export function useEdits(view: ModelView, onFault: (sentence: string | null) => void) {
  const cache = useQueryClient();
  const key = keys.model(view.project, view.model);
  return useMutation({
    scope: { id: `edit ${view.project} ${view.model}` },
    mutationFn: (edit: Edit) => send(cache.getQueryData<ModelView>(key) ?? view, edit),
    onSuccess: (fresh, edit) => {
      cache.setQueryData(key, fresh);
      onFault(null);
      if (fresh.inserted) useView.getState().select(fresh.inserted);
      if (edit.do === "delete") useView.getState().select(null);
    },
    onError: (fault) => {
      const refused = asRefusal(fault);
      onFault(refused.where ? `line ${refused.where.line}: ${refused.sentence}` : refused.sentence);
      void cache.invalidateQueries({ queryKey: key });
    },
  });
}
