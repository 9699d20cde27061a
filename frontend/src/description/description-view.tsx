import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { ask, client, type ModelView } from "../api/client";
import type { Edits } from "../state/use-edits";
import { Rendered } from "./rendered";

/** What a model is for: one line, and a documentation with headings, lists and formulae. */
export default function DescriptionView({ view, edits }: { view: ModelView; edits: Edits }) {
  const path = { project: view.project, model: view.model };
  const documentation = useQuery({
    queryKey: ["documentation", view.project, view.model, view.revision],
    queryFn: () =>
      ask(client.GET("/api/projects/{project}/models/{model}/documentation", { params: { path } })),
    placeholderData: (before) => before,
  });
  const [draft, setDraft] = useState<{ description: string; info: string } | null>(null);
  if (!documentation.data) return <p className="muted p-4">Opening…</p>;
  const { description, info } = documentation.data;
  const keep = async () => {
    if (!draft) return;
    if (draft.description !== description)
      await edits.mutateAsync({ do: "describe", text: draft.description });
    if (draft.info !== info) await edits.mutateAsync({ do: "document", text: draft.info });
    setDraft(null);
  };
  return (
    <div className="flex h-full flex-col bg-base-100" data-testid="description-view">
      <div className="rule-b flex items-center gap-2 px-3 py-1.5">
        {draft ? (
          <input
            className="input input-sm w-full"
            value={draft.description}
            aria-label="What the model is, in one line"
            placeholder="What the model is, in one line"
            onChange={(e) => setDraft({ ...draft, description: e.target.value })}
            data-testid="description-line"
          />
        ) : (
          <span className="text-[15px]">
            {description || <span className="muted">No description yet.</span>}
          </span>
        )}
        <span className="ml-auto" />
        {draft ? (
          <>
            <button
              type="button"
              className="btn btn-sm btn-primary"
              onClick={() => void keep().catch(() => undefined)}
              disabled={edits.isPending}
              data-testid="description-keep"
            >
              Keep
            </button>
            <button type="button" className="btn btn-sm" onClick={() => setDraft(null)}>
              Cancel
            </button>
          </>
        ) : (
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => setDraft({ description, info })}
            data-testid="description-edit"
          >
            Edit
          </button>
        )}
      </div>
      <div className={`grid min-h-0 flex-1 ${draft ? "grid-cols-2" : ""}`}>
        {draft && (
          <textarea
            className="textarea mono rule-r h-full w-full resize-none rounded-none border-0 p-3"
            value={draft.info}
            aria-label="Documentation"
            placeholder={
              "Plain text, or HTML as the standard's documentation has it: <h3>, <p>, <ul>, <table>; formulae between $…$."
            }
            onChange={(e) => setDraft({ ...draft, info: e.target.value })}
            data-testid="description-info"
          />
        )}
        <div
          className="documentation min-h-0 overflow-y-auto px-4 py-3"
          data-testid="documentation"
        >
          <Rendered info={draft?.info ?? info} />
        </div>
      </div>
    </div>
  );
}
