import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";

import { ask, asRefusal, client } from "../api/client";
import { keys } from "../api/queries";
import { modelName } from "./model-name";

/** Starts a model on an empty sheet. */
export function NewModel({ project }: { project: number }) {
  const [typed, setTyped] = useState<string | null>(null);
  const cache = useQueryClient();
  const navigate = useNavigate();
  const name = modelName(typed ?? "");
  const make = useMutation({
    mutationFn: () => {
      const text = `model ${name}${typed?.trim() === name ? "" : ` ${JSON.stringify(typed?.trim())}`}\n  annotation (experiment(StopTime=10));\nend ${name};\n`;
      return ask(
        client.POST("/api/projects/{project}/files", {
          params: { path: { project } },
          body: { path: `${name}.mo`, text },
        }),
      );
    },
    onSuccess: async () => {
      await cache.invalidateQueries({ queryKey: keys.projects });
      await navigate(`/projects/${project}/models/${name}`);
    },
  });
  if (typed === null) {
    return (
      <button
        type="button"
        className="btn btn-sm shrink-0"
        onClick={() => setTyped("")}
        data-testid="new-model"
      >
        <Plus size={14} /> New model
      </button>
    );
  }
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (name) make.mutate();
      }}
    >
      {make.error && (
        <p role="alert" className="text-error" data-testid="new-model-fault">
          ✕ {asRefusal(make.error).sentence}
        </p>
      )}
      <input
        autoFocus
        className="input input-sm w-48"
        placeholder="Name of the model"
        aria-label="Name of the new model"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && setTyped(null)}
        data-testid="new-model-name"
      />
      <button
        type="submit"
        className="btn btn-sm btn-primary"
        disabled={!name || make.isPending}
        data-testid="new-model-make"
      >
        Create
      </button>
    </form>
  );
}
