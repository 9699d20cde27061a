import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { ago } from "../ui/format";
import { DraftInput } from "../ui/draft-input";
import { Thumbnail } from "../drawing/thumbnail";
import { usePlace } from "../state/place";
import type { Edits } from "../state/use-edits";

type Entry = Schemas["RevisionSummary"];

/** Every edit of the model in words; any two states can be compared, any brought back. */
export default function HistoryView({ view, edits }: { view: ModelView; edits: Edits }) {
  const path = { project: view.project, model: view.model };
  const list = useInfiniteQuery({
    queryKey: listKey(view),
    queryFn: ({ pageParam }) =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/revisions", {
          params: { path, query: pageParam ? { before: pageParam } : {} },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.more ? last.revisions.at(-1)?.id : undefined),
  });
  const cache = useQueryClient();
  const { project, model, revision } = view;
  useEffect(() => {
    // An edit adds a line; the pages that somebody has opened stay open.
    void cache.invalidateQueries({ queryKey: listKey({ project, model }) });
  }, [cache, project, model, revision]);
  const compared = usePlace((s) => s.compared);
  const [chosen, setPair] = useState<{ a: number; b: number } | null>(null);
  const pair = chosen ?? (compared === null ? null : { a: compared, b: view.revision });
  const [marked, setMarked] = useState<number | null>(null);
  const entries = list.data?.pages.flatMap((page) => page.revisions) ?? [];
  const compare = (id: number) => {
    if (marked !== null && marked !== id) {
      setPair({ a: Math.min(marked, id), b: Math.max(marked, id) });
      setMarked(null);
    } else setPair({ a: Math.min(id, view.revision), b: Math.max(id, view.revision) });
  };
  return (
    <div
      className="grid h-full min-h-0 grid-cols-[minmax(18rem,2fr)_minmax(0,3fr)] bg-base-100"
      data-testid="history-view"
    >
      <ol className="rule-r min-h-0 overflow-y-auto" aria-label="Revisions, newest first">
        {entries.map((entry) => (
          <RevisionLine
            key={entry.id}
            entry={entry}
            view={view}
            marked={marked === entry.id}
            onMark={() => setMarked(marked === entry.id ? null : entry.id)}
            onCompare={() => compare(entry.id)}
            onRestore={() => edits.mutate({ do: "restore", revision: entry.id })}
          />
        ))}
        {list.hasNextPage && (
          <li className="p-2 text-center">
            <button
              type="button"
              className="btn btn-ghost btn-sm"
              disabled={list.isFetchingNextPage}
              onClick={() => void list.fetchNextPage()}
              data-testid="earlier"
            >
              {list.isFetchingNextPage ? "Fetching…" : "Earlier revisions"}
            </button>
          </li>
        )}
      </ol>
      {pair ? (
        <Compared view={view} pair={pair} />
      ) : (
        <p className="muted p-6 text-center">
          Compare any revision with the present state, or mark one and compare it with another.
        </p>
      )}
    </div>
  );
}

function listKey(view: Pick<ModelView, "project" | "model">) {
  return ["revisions", view.project, view.model];
}

interface LineProps {
  entry: Entry;
  view: ModelView;
  marked: boolean;
  onMark: () => void;
  onCompare: () => void;
  onRestore: () => void;
}

function RevisionLine({ entry, view, marked, onMark, onCompare, onRestore }: LineProps) {
  const cache = useQueryClient();
  const name = useMutation({
    mutationFn: (text: string) =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/revisions/name", {
          params: { path: { project: view.project, model: view.model } },
          body: { id: entry.id, name: text },
        }),
      ),
    onSuccess: () => cache.invalidateQueries({ queryKey: listKey(view) }),
  });
  return (
    <li
      className={`rule-b px-3 py-1.5 ${entry.undone ? "opacity-70" : ""}`}
      data-testid={`revision-${entry.id}`}
    >
      <div className="flex items-baseline gap-2">
        <span className="min-w-0 flex-1 truncate" title={entry.summary}>
          {entry.current && <span className="font-semibold">● </span>}
          {entry.summary}
        </span>
        <span className="muted shrink-0 text-[12px]">
          {entry.current ? "now" : ago(entry.created)}
          {entry.undone && ", undone"}
        </span>
      </div>
      <div className="flex items-center gap-1">
        <span className="min-w-0 flex-1">
          <DraftInput
            value={entry.name}
            label={`Name of revision ${entry.id}`}
            testid={`revision-name-${entry.id}`}
            className="w-full border-b border-transparent bg-transparent text-[12px] font-medium outline-none placeholder:text-secondary hover:border-base-300 focus:border-primary"
            placeholder="name it"
            refusal={name.error ? asRefusal(name.error).sentence : null}
            onKeep={(text, done) => name.mutate(text, { onSuccess: done })}
            onAgain={name.reset}
          />
        </span>
        <button
          type="button"
          className="btn btn-ghost btn-xs px-1 font-normal"
          aria-pressed={marked}
          onClick={onMark}
          title="Mark it, then compare another one with it"
        >
          {marked ? "marked" : "mark"}
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs px-1 font-normal"
          onClick={onCompare}
          data-testid={`compare-${entry.id}`}
        >
          compare
        </button>
        {!entry.current && (
          <button
            type="button"
            className="btn btn-ghost btn-xs px-1 font-normal"
            onClick={onRestore}
            title="Bring this state back, as a new revision"
            data-testid={`restore-${entry.id}`}
          >
            restore
          </button>
        )}
      </div>
    </li>
  );
}

const SIGNS: Record<string, string> = {
  added: "+",
  removed: "−",
  moved: "→",
  swapped: "⇄",
  wired: "+",
  unwired: "−",
};

function Compared({ view, pair }: { view: ModelView; pair: { a: number; b: number } }) {
  const path = { project: view.project, model: view.model };
  const compared = useQuery({
    queryKey: ["compare", view.project, view.model, pair.a, pair.b],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/models/{model}/revisions/compare", {
          params: { path, query: pair },
        }),
      ),
    staleTime: Infinity,
  });
  if (compared.error)
    return <p className="p-4 text-error">✕ {asRefusal(compared.error).sentence}</p>;
  if (!compared.data) return <p className="muted p-4">Comparing…</p>;
  const { lines, before, after, changes } = compared.data;
  return (
    <div className="min-h-0 overflow-y-auto px-3 py-2" data-testid="comparison">
      <div className="grid grid-cols-2 gap-2">
        {(
          [
            ["before", before],
            ["after", after],
          ] as const
        ).map(([word, sheet]) => (
          <figure key={word} className="border border-base-300">
            <figcaption className="muted px-2 py-0.5 text-[12px]">{word}</figcaption>
            <div className="h-36 bg-base-200 p-1">
              {sheet ? <Thumbnail sheet={sheet} /> : <p className="muted p-2">cannot be drawn</p>}
            </div>
          </figure>
        ))}
      </div>
      {changes.length > 0 && (
        <p className="flex flex-wrap py-2">
          {changes.map((change) => (
            <span key={`${change.what} ${change.name}`} className="pr-3 whitespace-nowrap">
              {SIGNS[change.what]} {change.name} <span className="muted">{change.what}</span>
            </span>
          ))}
        </p>
      )}
      {lines.length === 0 && <p className="muted py-2">The texts are the same.</p>}
      <pre className="mono py-2 whitespace-pre-wrap" data-testid="comparison-text">
        {lines.map((line, i) => (
          <div
            key={i}
            className={
              line.kind === "added"
                ? "line-added"
                : line.kind === "removed"
                  ? "line-removed"
                  : "muted"
            }
          >
            {{ added: "+ ", removed: "− ", gap: "⋯", same: "  " }[line.kind] ?? "  "}
            {line.text}
          </div>
        ))}
      </pre>
    </div>
  );
}
