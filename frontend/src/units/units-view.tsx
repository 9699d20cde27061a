import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { ask, client, type ModelView } from "../api/client";
import { ago } from "../ui/format";
import { type Chosen, SideList } from "../ui/side-list";
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
  const [chosen, setChosen] = useState<Chosen | null>(null);
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
      <SideList
        label="Units"
        noun="unit"
        entries={units.map((u) => ({
          id: u.id,
          name: u.name,
          title: kindWords(u.choices),
          words: `${u.choices.interfaces.join(" + ").toUpperCase()}, ${STATES[u.state]}, ${ago(u.created)}`,
        }))}
        shown={shown}
        onChoose={setChosen}
      />
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
