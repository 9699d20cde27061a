import { useRef, useState } from "react";

import { asRefusal, type ModelView } from "../api/client";
import { FileInput } from "../ui/file-input";
import { usePlace } from "../state/place";
import { BASE, scenarioOf } from "../state/scenarios";
import { useEdits } from "../state/use-edits";
import { Cells } from "../ui/cells";
import { ColourDot } from "../ui/colour-dot";
import { asText, curveOf, sizeWords, type Table } from "../ui/tables";

/** Cells that are shown at most; a larger table is a text. */
const MOST_CELLS = 600;

function count(table: Table): number {
  return table.elements.reduce((sum, row) => sum + row.length, 0);
}

/** A table among the rows of the ledger: its size and course; opened, its rows are typed or pasted from a spreadsheet. */
export function TableRow({ table, view }: { table: Table; view: ModelView }) {
  const [draft, setDraft] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const edits = useEdits(view, () => undefined);
  const scenario = scenarioOf(
    view,
    usePlace((s) => s.scenario),
  );
  const changing = scenario.name !== BASE;
  const changed = changing ? scenario.changes[table.name] : undefined;
  const before = changed ?? asText(table);
  const [asLines, setAsLines] = useState(false);
  // One expression for the whole table is no cells, and neither are very many.
  const fitting = changed === undefined && table.whole === null && count(table) <= MOST_CELLS;
  const cells = fitting && !asLines;
  const inPart = table.name.includes(".");
  const refusal = edits.error ? asRefusal(edits.error).sentence : null;
  const curve = curveOf(table, 56, 16);
  const close = () => {
    setDraft(null);
    edits.reset();
  };
  const keep = () => {
    if (draft === null || edits.isPending) return;
    if (draft === before) close();
    else
      edits.mutate(
        changing
          ? { do: "scenario value", scenario: scenario.name, place: table.name, text: draft }
          : { do: "table", name: table.name, text: draft },
        { onSuccess: close },
      );
  };
  return (
    <div className="px-3 py-0.5" data-testid={`row-${table.name}`}>
      <div className="grid grid-cols-[minmax(0,1fr)_3.8rem_auto] items-center gap-x-1.5">
        <span
          className={`truncate ${table.elements.some((row) => row.some((cell) => cell.modified)) ? "font-medium" : ""}`}
          title={table.description}
        >
          {table.label}
        </span>
        <svg viewBox="-2 -2 60 20" className="h-5 w-full" aria-hidden="true">
          {curve && (
            <polyline
              points={curve}
              fill="none"
              stroke="var(--color-base-content)"
              strokeWidth={1.25}
            />
          )}
        </svg>
        <button
          type="button"
          className="btn btn-ghost btn-xs font-normal"
          aria-expanded={draft !== null}
          disabled={!table.editable}
          onClick={() => (draft === null ? setDraft(before) : close())}
          data-testid={`table-${table.name}`}
        >
          {sizeWords(table)}
        </button>
      </div>
      {changed !== undefined && (
        <p
          className="flex items-center justify-end gap-1 text-[12px]"
          data-testid={`changed-${table.name}`}
        >
          <ColourDot slot={scenario.colour} />
          <span className="mono truncate" title={changed}>
            {changed}
          </span>
          <button
            type="button"
            className="btn btn-ghost btn-xs font-normal"
            onClick={() =>
              edits.mutate({
                do: "scenario value",
                scenario: scenario.name,
                place: table.name,
                text: null,
              })
            }
            data-testid={`revert-${table.name}`}
          >
            as in the base
          </button>
        </p>
      )}
      {draft !== null && (
        <div className="py-1">
          {cells ? (
            <Cells
              text={draft}
              label={`Cells of ${table.label}`}
              testid={`cells-${table.name}`}
              onChange={(text) => {
                setDraft(text);
                edits.reset();
              }}
              onKeep={keep}
              onClose={close}
            />
          ) : (
            <textarea
              autoFocus
              className={`textarea mono h-40 w-full rounded-none text-[12px] ${refusal ? "border-error" : ""}`}
              value={draft}
              aria-label={`Rows of ${table.label}: numbers or formulae, one row in a line`}
              aria-invalid={refusal !== null}
              spellCheck={false}
              onChange={(event) => {
                setDraft(event.target.value);
                edits.reset();
              }}
              onKeyDown={(event) => {
                if (event.key === "Escape") close();
                if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
                  event.preventDefault();
                  event.stopPropagation();
                  keep();
                }
              }}
              data-testid={`table-rows-${table.name}`}
            />
          )}
          {refusal && (
            <p
              role="alert"
              className="text-[12px] text-error"
              data-testid={`table-${table.name}-fault`}
            >
              ✕ {refusal}
            </p>
          )}
          <div className="flex flex-wrap items-center justify-end gap-1 pt-1">
            <span className="muted w-full text-[12px]">
              {changing ? `Changes ${scenario.name} only. ` : ""}
              {table.description}. Numbers, units, names and formulae; paste from a spreadsheet as
              you like.
            </span>
            <FileInput
              inputRef={file}
              accept=".csv,.txt,.tsv"
              label={`File with the rows of ${table.label}`}
              testid={`table-file-${table.name}`}
              onFile={(chosen) =>
                void chosen.text().then((text) => {
                  setAsLines(true);
                  setDraft(text.trim());
                })
              }
            />
            {fitting && (
              <button
                type="button"
                className="btn btn-xs"
                onClick={() => setAsLines(!asLines)}
                title={asLines ? "Each value in a cell of its own" : "The rows as lines of text"}
                data-testid={`table-as-lines-${table.name}`}
              >
                {asLines ? "As cells" : "As lines"}
              </button>
            )}
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => file.current?.click()}
              data-testid={`table-load-${table.name}`}
            >
              From a file
            </button>
            {!changing && (
              <button
                type="button"
                className="btn btn-xs"
                disabled={edits.isPending}
                onClick={() =>
                  edits.mutate(
                    inPart
                      ? {
                          do: "expose",
                          parameter: table.name,
                          name: "",
                          description: "",
                          group: "",
                        }
                      : { do: "hide", name: table.name },
                    { onSuccess: close },
                  )
                }
                title={
                  inPart
                    ? `Make it a parameter of ${view.sheet.name}`
                    : `Take it away; what uses it gets its values`
                }
                data-testid={`${inPart ? "expose" : "hide"}-${table.name}`}
              >
                {inPart ? "Expose" : "Hide"}
              </button>
            )}
            <button
              type="button"
              className="btn btn-xs btn-primary"
              onClick={keep}
              disabled={edits.isPending}
              data-testid={`table-keep-${table.name}`}
            >
              Keep
            </button>
            <button type="button" className="btn btn-xs" onClick={close}>
              Cancel
            </button>
          </div>
        </div>
      )}
    </div>
  );
}
