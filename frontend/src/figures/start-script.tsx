import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { useDraft } from "../state/draft";
import { useEdits } from "../state/use-edits";
import { useSettled } from "../state/use-settled";
import { Editor } from "../text/editor";
import { findingsOf } from "../text/findings";
import { counted, withUnit } from "../ui/format";

/** Milliseconds after the last key before the script is tried. */
const PAUSE = 250;
const BEGIN = `# Works out values from the others; a unit in brackets says in which they count.
import numpy as np

rate = np.linspace(0, 0.02, 9)      # [m3/s] where the pump was measured
head = 30 - 4e4*rate**2             # [m] its head there
curve = [[q, h] for q, h in zip(rate, head)]
`;

interface Props {
  view: ModelView;
  /** The script as it is kept; empty for none yet. */
  script: string;
  onClose: () => void;
}

/** The script that works out values of the project: written, tried while it is typed, and kept. */
export function StartScript({ view, script, onClose }: Props) {
  const draft = useDraft(`script ${view.project} ${view.model}`, script || BEGIN);
  const edits = useEdits(view, () => undefined);
  const settled = useSettled(draft.value, PAUSE);
  const tried = useQuery({
    queryKey: ["script", view.project, view.model, view.revision, settled],
    queryFn: () =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/script", {
          params: { path: { project: view.project, model: view.model } },
          body: { text: settled },
        }),
      ),
    retry: false,
    staleTime: Infinity,
    gcTime: 0,
    placeholderData: (before) => before,
  });
  const refused = asFault(tried.error ?? edits.error);
  const findings = useMemo(() => findingsOf(refused), [refused]);
  // The editor begins with the text as it was when it was opened; from then on it has its own.
  const [begun] = useState(draft.value);
  const keep = (source: string) =>
    edits.mutate({ do: "script", source }, { onSuccess: () => (draft.forget(), onClose()) });
  const results = tried.data?.results ?? [];
  return (
    <div className="rule-b flex h-80 shrink-0 flex-col" data-testid="start-script">
      <div className="flex items-center gap-2 px-3 py-1.5">
        <span className="font-medium">Start script</span>
        <span className="muted">
          It runs before each run and after each change. Values of the project count in SI units in
          it.
        </span>
        <span className="ml-auto" />
        {script && (
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => keep("")}
            disabled={edits.isPending}
            title="Its results go with it; undo brings them back"
            data-testid="script-delete"
          >
            Delete
          </button>
        )}
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Leave
        </button>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          onClick={() => keep(draft.value)}
          disabled={settled !== draft.value || tried.isFetching || !!refused || edits.isPending}
          data-testid="script-keep"
        >
          {edits.isPending ? "Keeping…" : "Keep (Ctrl+S)"}
        </button>
      </div>
      <div className="rule-t grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_16rem]">
        <Editor
          text={begun}
          label="Start script"
          testid="script-text"
          findings={findings}
          onChange={(source) => (draft.change(source), edits.reset())}
          onKeep={() => keep(draft.value)}
        />
        <div
          className="rule-l overflow-y-auto px-3 py-1.5"
          role="status"
          data-testid="script-status"
        >
          {refused ? (
            <p className="text-error">✕ {refused.sentence}</p>
          ) : (
            <>
              <p className="muted text-[12px]">{counted(results.length, "value")}</p>
              {results.map((result) => (
                <p key={result.name} className="flex justify-between gap-3" title={result.note}>
                  <span className="mono">{result.name}</span>
                  <span className={result.size ? "muted" : "mono"}>
                    {result.value !== null
                      ? withUnit(result.value, result.unit)
                      : `${result.size}${result.unit ? ` in ${result.unit}` : ""}`}
                  </span>
                </p>
              ))}
            </>
          )}
        </div>
      </div>
    </div>
  );
}

function asFault(fault: Error | null) {
  return fault ? asRefusal(fault) : null;
}
