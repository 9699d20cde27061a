import { useMutation, useQueryClient } from "@tanstack/react-query";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { complete } from "../api/complete";
import { keys } from "../api/queries";
import { newId, untilAnswered } from "./sent-again";
import { useSelection } from "./selection";

/** What can be done to a model; each edit answers with the model as it is now, or says why not. */
export type Edit = Schemas["EditOrder"]["edit"];
export type WireEnds = Schemas["WireEnds"];

/** The model after an edit of it. Where the answer is lost the edit is sent again; the server knows it by its id. */
export async function sendEdit(view: ModelView, edit: Edit): Promise<ModelView> {
  const params = { path: { project: view.project, model: view.model } };
  const body = { id: newId(), revision: view.revision, known: view.mark, edit };
  const answer = await untilAnswered(() =>
    ask(client.POST("/api/projects/{project}/models/{model}/edits", { params, body })),
  );
  return complete(answer, view);
}

/** What is ordered of the models of a project, edits and runs alike, happens in the order in which it was ordered. */
export function oneAfterTheOther(view: ModelView): { id: string } {
  return { id: `project ${view.project}` };
}

/** Sends edits of a model one after the other, always against its newest revision. */
export function useEdits(view: ModelView, onFault: (sentence: string | null) => void) {
  const cache = useQueryClient();
  const key = keys.model(view.project, view.model);
  return useMutation({
    mutationKey: ["edit", view.project, view.model],
    scope: oneAfterTheOther(view),
    mutationFn: (edit: Edit) => sendEdit(cache.getQueryData<ModelView>(key) ?? view, edit),
    onSuccess: (fresh, edit) => {
      // A large model is answered before it is looked through: its rows come right after.
      const before = cache.getQueryData<ModelView>(key);
      cache.setQueryData(
        key,
        fresh.analysed || !before
          ? fresh
          : { ...fresh, rows: before.rows, problem: before.problem, doubts: before.doubts },
      );
      if (!fresh.analysed && fresh.meaning !== before?.meaning)
        void cache.invalidateQueries({ queryKey: key });
      // Other models of the same file are at this revision, too; what it means for them is announced.
      cache.setQueriesData<ModelView>(
        {
          queryKey: ["model", view.project],
          predicate: ({ queryKey }) => queryKey[2] !== view.model,
        },
        (other) =>
          other?.file === fresh.file && other.revision < fresh.revision
            ? { ...other, revision: fresh.revision }
            : other,
      );
      onFault(null);
      const { selection, selectParts } = useSelection.getState();
      if (fresh.inserted?.length) selectParts(fresh.inserted);
      else if (edit.do === "delete") selectParts([]);
      else {
        // What is no more on the sheet cannot be selected.
        const there = selection.filter((name) =>
          fresh.sheet.components.some((c) => c.name === name),
        );
        if (there.length < selection.length) selectParts(there);
      }
    },
    onError: (fault, edit) => {
      const refused = asRefusal(fault);
      // A line says something only to whoever has the text before them.
      const line = edit.do === "text" && refused.where ? `line ${refused.where.line}: ` : "";
      onFault(line + refused.sentence);
      // Somebody else edited it, or the server is away: see what there is now.
      if (refused.status === 409 || refused.status === 0)
        void cache.invalidateQueries({ queryKey: key });
    },
  });
}

export type Edits = ReturnType<typeof useEdits>;
