import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { useShelf } from "../api/queries";
import { find } from "../shelf/find";
import type { Edits } from "../state/use-edits";

interface Props {
  view: ModelView;
  part: string;
  edits: Edits;
  onClose: () => void;
}

/** Puts a part of another class in the place of one, saying first what would be kept and what lost. */
export function SwapPanel({ view, part, edits, onClose }: Props) {
  const shelf = useShelf(view.project, view.model, view.revision);
  const [typed, setTyped] = useState("");
  const [chosen, setChosen] = useState<string | null>(null);
  const [mapping, setMapping] = useState<Record<string, string>>({});
  const component = view.sheet.components.find((c) => c.name === part);
  const ports = useMemo(() => new Set(component?.icon.ports.map((p) => p.name)), [component]);
  const entries = useMemo(() => {
    const others = find(shelf.data?.entries ?? [], typed).filter(
      (e) => e.class !== component?.class && e.class !== view.model,
    );
    // Classes with the same ports come first.
    const fit = (e: (typeof others)[number]) =>
      e.icon.ports.filter((p) => ports.has(p.name)).length -
      Math.abs(e.icon.ports.length - ports.size) / 100;
    return typed.trim() ? others : [...others].sort((a, b) => fit(b) - fit(a));
  }, [shelf.data, typed, component, view.model, ports]);
  const path = { project: view.project, model: view.model };
  const plan = useQuery({
    queryKey: ["swap", view.project, view.model, view.revision, part, chosen],
    queryFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/swap", {
          params: { path },
          body: { part, class: chosen! },
        }),
      ),
    enabled: chosen !== null,
    retry: false,
  });
  const take = () =>
    edits.mutate(
      { do: "swap", name: part, class: chosen!, ports: { ...plan.data!.ports, ...mapping } },
      { onSuccess: onClose },
    );
  return (
    <div
      role="dialog"
      aria-label={`Swap ${part}`}
      className="absolute top-12 left-2 z-20 flex max-h-[80%] w-96 flex-col border border-base-300 bg-base-100 p-3 shadow-md"
      data-testid="swap-panel"
      onKeyDown={(e) => e.key === "Escape" && onClose()}
    >
      {chosen === null ? (
        <>
          <p className="pb-2">
            Put what in the place of <b className="font-semibold">{part}</b>?
          </p>
          <input
            autoFocus
            className="input input-sm w-full"
            placeholder="Name of a class"
            aria-label="Class to swap for"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
            onKeyDown={(e) => e.key === "Enter" && entries[0] && setChosen(entries[0].class)}
            data-testid="swap-search"
          />
          <ul className="min-h-0 flex-1 overflow-y-auto pt-1">
            {entries.slice(0, 40).map((entry) => (
              <li key={entry.class}>
                <button
                  type="button"
                  className="block w-full px-1.5 py-0.5 text-left hover:bg-base-200"
                  onClick={() => setChosen(entry.class)}
                  data-testid={`swap-${entry.class}`}
                >
                  {entry.name} <span className="muted">{entry.description}</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      ) : (
        <>
          <p className="pb-2">
            <b className="font-semibold">{part}</b> becomes {chosen.split(".").at(-1)}.
          </p>
          {plan.error && <p className="text-error">✕ {asRefusal(plan.error).sentence}</p>}
          {plan.data && (
            <div className="min-h-0 overflow-y-auto" data-testid="swap-plan">
              {Object.entries(plan.data.ports).map(([port, target]) => (
                <div key={port} className="flex items-center gap-2 py-0.5">
                  <span className="w-28 truncate">port {port}</span>
                  {plan.data.choices[port] ? (
                    <select
                      className="select select-sm flex-1"
                      value={mapping[port] ?? target}
                      onChange={(e) => setMapping({ ...mapping, [port]: e.target.value })}
                      aria-label={`Port that takes over from ${port}`}
                      data-testid={`swap-port-${port}`}
                    >
                      <option value="">its wires go</option>
                      {plan.data.choices[port].map((other) => (
                        <option key={other}>{other}</option>
                      ))}
                    </select>
                  ) : (
                    <span className="muted">✓ kept</span>
                  )}
                </div>
              ))}
              {plan.data.lost.length > 0 && (
                <p className="pt-2">
                  Not kept, as the other class has no such parameter:{" "}
                  <span className="mono">{plan.data.lost.join(", ")}</span>
                </p>
              )}
              {plan.data.broken.length > 0 && (
                <p className="pt-2 text-error">
                  ✕ Used elsewhere in the model: {plan.data.broken.join("; ")}. Change these places
                  first.
                </p>
              )}
              {plan.data.lost.length + plan.data.broken.length === 0 && (
                <p className="muted pt-1">All values are kept.</p>
              )}
            </div>
          )}
        </>
      )}
      <div className="flex gap-2 pt-3">
        {chosen !== null && (
          <>
            <button
              type="button"
              className="btn btn-sm btn-primary"
              disabled={!plan.data || plan.data.broken.length > 0 || edits.isPending}
              onClick={take}
              data-testid="swap-take"
            >
              Swap
            </button>
            <button type="button" className="btn btn-sm" onClick={() => setChosen(null)}>
              Another class
            </button>
          </>
        )}
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Cancel
        </button>
      </div>
    </div>
  );
}
