import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { usePlace } from "../state/place";

/** Finds words in all texts of the project and goes there. */
export function ProjectSearch({ view, onClose }: { view: ModelView; onClose: () => void }) {
  const [words, setWords] = useState("");
  const setView = usePlace((s) => s.setView);
  const navigate = useNavigate();
  const cache = useQueryClient();
  const asked = queryOptions({
    queryKey: ["search", view.project, words, view.revision],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project}/search", {
          params: { path: { project: view.project }, query: { words } },
        }),
      ),
  });
  const matches = useQuery({
    ...asked,
    enabled: words.trim().length > 0,
    placeholderData: (before) => before,
  });
  const go = (model: string, line: number) => {
    if (model === view.model) setView("text", line);
    else
      void Promise.resolve(
        navigate(`/projects/${view.project}/models/${encodeURIComponent(model)}?line=${line}`),
      );
  };
  /** To the first place of these very words, as soon as the answer is there. */
  const goToFirst = async () => {
    const first = words.trim() ? (await cache.fetchQuery(asked)).matches[0] : undefined;
    if (first) go(first.model, first.line);
  };
  return (
    <div className="rule-b bg-base-100 px-3 py-2" data-testid="project-search">
      <input
        autoFocus
        className="input input-sm w-80"
        placeholder="Words in any file of the project"
        aria-label="Words to find in the project"
        value={words}
        onChange={(event) => setWords(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") onClose();
          if (event.key === "Enter") void goToFirst().catch(() => undefined);
        }}
        data-testid="project-search-words"
      />
      {words.trim() && (
        <ul
          className={`max-h-44 overflow-y-auto pt-1 ${matches.isPlaceholderData ? "opacity-50" : ""}`}
          aria-busy={matches.isFetching}
        >
          {matches.data?.matches.map((place) => (
            <li key={`${place.file} ${place.line}`}>
              <button
                type="button"
                className="flex w-full gap-3 py-0.5 text-left hover:bg-base-200"
                onClick={() => go(place.model, place.line)}
              >
                <span className="mono muted shrink-0">
                  {place.file}:{place.line}
                </span>
                <span className="mono truncate">{place.text}</span>
              </button>
            </li>
          ))}
          {matches.error && (
            <li role="alert" className="text-error">
              ✕ {asRefusal(matches.error).sentence}
            </li>
          )}
          {matches.data?.matches.length === 0 && !matches.isPlaceholderData && (
            <li className="muted">Nothing was found in this project.</li>
          )}
        </ul>
      )}
    </div>
  );
}
