import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";

import { ask, asRefusal, client, type ModelView, type Row } from "../api/client";
import { keys } from "../api/queries";
import { formatNumber, formatUnit } from "../format";
import { editText, shownText } from "./row-text";

/** A parameter, edited in place: a number in any fitting unit, or an expression. */
export function ParameterRow({ row, view }: { row: Row; view: ModelView }) {
  const [draft, setDraft] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const id = useId();
  const cache = useQueryClient();
  const save = useMutation({
    mutationFn: (text: string) =>
      ask(
        client.POST("/api/projects/{project}/models/{model}/parameters", {
          params: { path: { project: view.project, model: view.model } },
          body: { revision: view.revision, name: row.name, text },
        }),
      ),
    onSuccess: (fresh) => {
      cache.setQueryData(keys.model(view.project, view.model), fresh);
      setDraft(null);
      setRefusal(null);
    },
    onError: (fault) => {
      const refused = asRefusal(fault);
      setRefusal(refused.sentence);
      if (refused.status === 409) void cache.invalidateQueries({ queryKey: keys.model(view.project, view.model) });
    },
  });

  const commit = () => {
    if (draft === null || save.isPending) return;
    if (draft.trim() === editText(row)) {
      setDraft(null);
      setRefusal(null);
      return;
    }
    save.mutate(draft);
  };
  const giveUp = () => {
    setDraft(null);
    setRefusal(null);
    save.reset();
  };

  const unit = formatUnit(row.shown_unit);
  const label = `${row.label}${unit ? ` in ${unit}` : ""}`;
  return (
    <div className="px-3 py-0.5" data-testid={`row-${row.name}`}>
      <div className="grid grid-cols-[minmax(0,1fr)_7.5rem_3.6rem] items-center gap-x-2">
        <label htmlFor={id} className="truncate" title={row.description || row.label}>
          {row.label}
        </label>
        {row.editable ? (
          <input
            ref={input}
            id={id}
            className={`input input-sm mono w-full rounded-none border-0 border-b bg-transparent px-1 text-right ${
              refusal ? "border-error" : "border-base-300"
            }`}
            value={draft ?? shownText(row)}
            aria-label={label}
            aria-invalid={refusal !== null}
            aria-describedby={refusal ? `${id}-fault` : undefined}
            data-testid={`param-${row.name}`}
            onFocus={() => {
              if (draft === null) setDraft(editText(row));
              requestAnimationFrame(() => input.current?.select());
            }}
            onChange={(event) => {
              setDraft(event.target.value);
              setRefusal(null);
            }}
            onBlur={() => {
              if (refusal === null) commit();
            }}
            onKeyDown={(event) => {
              if (event.key === "Enter") commit();
              if (event.key === "Escape") {
                giveUp();
                event.currentTarget.blur();
              }
            }}
          />
        ) : (
          <output id={id} className="mono muted truncate px-1 text-right" title="Computed from other values">
            {formatNumber(row.shown)}
          </output>
        )}
        <span className="muted dense truncate" title={row.shown_unit}>
          {unit}
        </span>
      </div>
      {row.expression !== null && row.shown !== null && draft === null && row.editable && (
        <p className="mono muted pr-16 text-right">= {formatNumber(row.shown)}</p>
      )}
      {refusal && (
        <p id={`${id}-fault`} role="alert" className="text-error mt-0.5 text-[12px]" data-testid={`fault-${row.name}`}>
          ✕ {refusal}
        </p>
      )}
    </div>
  );
}
