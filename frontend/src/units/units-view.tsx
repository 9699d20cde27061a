import { useQuery } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useState } from "react";

import { ask, client, type ModelView } from "../api/client";
import { ago } from "../ui/format";
import { kindWords } from "./choices";
import { MadeUnit } from "./made-unit";
import { NewUnit } from "./new-unit";

const STATES: Record<string, string> = {
  waiting: "waiting",
  running: "being compiled",
  done: "ready",
  failed: "failed",
};

/** Units of the Functional Mock-up Interface that were made of the model, and the page of choices for another one. */
export default function UnitsView({ view }: { view: ModelView }) {
  const [chosen, setChosen] = useState<number | "new" | null>(null);
  const list = useQuery({
    queryKey: ["units", view.project, view.model],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/units", {
          params: { path: { project: view.project, model: view.model } },
        }),
      ),
    refetchInterval: (query) =>
      query.state.data?.units.some((u) => u.state === "waiting" || u.state === "running")
        ? 500
        : false,
  });
  const units = list.data?.units ?? [];
  const shown = chosen ?? units[0]?.id ?? "new";
  const unit = units.find((u) => u.id === shown);
  return (
    <div className="flex h-full bg-base-100" data-testid="units-view">
      <nav
        className="w-56 shrink-0 overflow-y-auto border-r border-base-300 py-2"
        aria-label="Units"
      >
        <button
          type="button"
          className={`flex w-full items-center gap-1 px-3 py-1 text-left hover:bg-base-200 ${shown === "new" ? "font-medium" : ""}`}
          onClick={() => setChosen("new")}
          data-testid="new-unit"
        >
          <Plus size={13} /> New unit
        </button>
        {units.map((u) => (
          <button
            key={u.id}
            type="button"
            className={`block w-full px-3 py-1 text-left hover:bg-base-200 ${shown === u.id ? "bg-base-200" : ""}`}
            onClick={() => setChosen(u.id)}
            data-testid={`unit-${u.id}`}
          >
            <span className="block truncate" title={kindWords(u.choices)}>
              {u.name}
            </span>
            <span className="muted text-[12px]">
              {u.choices.interfaces.join(" + ").toUpperCase()}, {STATES[u.state]}, {ago(u.created)}
            </span>
          </button>
        ))}
      </nav>
      <div className="min-w-0 flex-1 overflow-auto">
        {unit ? (
          <MadeUnit view={view} unit={unit} onGone={() => setChosen(null)} />
        ) : (
          list.data && <NewUnit view={view} platforms={list.data.platforms} onOrdered={setChosen} />
        )}
      </div>
    </div>
  );
}
