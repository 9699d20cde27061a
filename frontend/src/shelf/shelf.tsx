import { memo, useCallback, useEffect, useMemo, useRef, useState } from "react";

import { useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";

import type { ModelView } from "../api/client";
import { shelfQuery, useShelf } from "../api/queries";
import { useKeys } from "../ui/keys";
import { useInView } from "../ui/in-view";
import { useAskedComponent } from "../state/asked-component";
import { PartSymbol } from "../reference/part-symbol";
import { typedPart, valueWords } from "./typed-part";
import { DRAGGED, find, noteRecent, RECENT, readRecent, recentEntries, type Entry } from "./find";

/** Most answers that are shown to what was typed; who wants others types more. */
const MOST = 30;

/** Words for what other tools have as parts, and the recorder does. */
const SHOWN_ELSEWHERE = /\b(scope|oscilloscope|plot|display|graph|chart|probe|sink|recorder)/i;

function listed(words: string[]): string {
  return words.map((word) => `“${word}”`).join(", ");
}

interface Props {
  view: ModelView;
  /** Put a part of a class, with values for its rows, where the sheet's pointer was last, or in its middle. */
  onInsert: (className: string, values: Record<string, string>, onRefused: () => void) => void;
}

/** Parts to take: by typing, by clicking, by dragging. */
export function Shelf({ view, onInsert }: Props) {
  const shelf = useShelf(view.project, view.model, view.revision);
  const cache = useQueryClient();
  const [typed, setTyped] = useState("");
  const [chosen, setChosen] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  const entries = useMemo(
    () => (shelf.data?.entries ?? []).filter((e) => e.class !== view.model),
    [shelf.data, view.model],
  );
  const [recent, setRecent] = useState(readRecent);
  /** What was asked for with Enter before the shelf was there. */
  const [waiting, setWaiting] = useState<string[]>([]);
  const wanted = useMemo(() => typedPart(typed), [typed]);
  const matches = useMemo(
    () =>
      wanted.words ? find(entries, wanted.words) : [...recentEntries(entries, recent), ...entries],
    [entries, wanted.words, recent],
  );
  useKeys(
    {
      "/": () => {
        input.current?.focus();
        input.current?.select();
      },
    },
    "outside text",
  );
  const askFor = useAskedComponent((s) => s.ask);
  const insert = useRef(onInsert);
  useEffect(() => {
    insert.current = onInsert;
  });
  const take = useCallback((entry: Entry | undefined, asked = "") => {
    if (!entry) return;
    // What was refused can be mended.
    insert.current(entry.class, typedPart(asked).values, () => {
      setTyped(asked);
      input.current?.focus();
    });
    setRecent(noteRecent(entry.class));
    setTyped("");
    setChosen(0);
    input.current?.blur();
  }, []);
  const latest = useRef("");
  useEffect(() => {
    latest.current = typed.trim();
  });
  const takeTyped = useCallback((entry: Entry) => take(entry, latest.current), [take]);
  const enter = () => {
    const words = typed.trim();
    if (shelf.data) take(matches[chosen], words);
    else if (words) {
      // Inserted when the shelf is there; the next one can be typed meanwhile.
      setWaiting((before) => [...before, words]);
      setTyped("");
      void cache.ensureQueryData(shelfQuery(view.project, view.model)).then((answer) => {
        setWaiting((before) => before.filter((other) => other !== words));
        const best = find(
          answer.entries.filter((e) => e.class !== view.model),
          typedPart(words).words,
        )[0];
        if (best) take(best, words);
        else setTyped(words); // which says that there is nothing
      });
    }
  };
  return (
    <aside
      className="rule-r flex h-full flex-col bg-base-100"
      aria-label="Shelf"
      data-testid="shelf"
    >
      <div className="rule-b p-2">
        <input
          ref={input}
          className="input input-sm w-full"
          placeholder="Insert a part  ( / )"
          aria-label="Insert a part by typing its name"
          role="combobox"
          aria-expanded="true"
          aria-controls="shelf-list"
          aria-activedescendant={matches[chosen] ? `shelf-${matches[chosen].class}` : undefined}
          value={typed}
          data-testid="shelf-search"
          onChange={(event) => {
            setTyped(event.target.value);
            setChosen(0);
          }}
          onKeyDown={(event) => {
            if (event.key === "ArrowDown") setChosen((n) => Math.min(n + 1, matches.length - 1));
            else if (event.key === "ArrowUp") setChosen((n) => Math.max(n - 1, 0));
            else if (event.key === "Enter") enter();
            else if (event.key === "Escape") {
              setTyped("");
              input.current?.blur();
            } else return;
            event.preventDefault();
          }}
        />
      </div>
      <ul
        id="shelf-list"
        role={shelf.data ? "listbox" : undefined}
        aria-label="Parts"
        className="min-h-0 flex-1 overflow-y-auto pb-2"
      >
        {matches.slice(0, typed.trim() ? MOST : undefined).map((entry, i) => {
          const heading =
            !typed.trim() && entry.group !== matches[i - 1]?.group ? entry.group : null;
          return (
            <li
              key={`${entry.group} ${entry.class}`}
              role="presentation"
              className="group relative [contain-intrinsic-size:auto_44px] [content-visibility:auto]"
            >
              {heading && <p className="muted px-3 pt-3 pb-1 text-[12px] font-medium">{heading}</p>}
              <Item
                entry={entry}
                active={typed.trim() !== "" && i === chosen}
                domain={typed.trim() ? entry.group : ""}
                values={valueWords(wanted.values, entry.main_parameter || "its value")}
                onTake={takeTyped}
              />
              <Link
                to={`/projects/${view.project}/models/${encodeURIComponent(view.model)}/parts/${encodeURIComponent(entry.class)}`}
                className="btn btn-xs btn-ghost invisible absolute right-1 bottom-1 bg-base-100 px-1.5 [.group:hover_&]:visible"
                tabIndex={-1}
                title={`What ${entry.name} does`}
                data-testid={entry.group === RECENT ? undefined : `about-${entry.class}`}
              >
                ?
              </Link>
            </li>
          );
        })}
        {typed.trim() && matches.length > MOST && (
          <li className="muted p-3">{matches.length - MOST} more; type more of the name.</li>
        )}
        {!shelf.data && (
          <li className="muted p-3" role="status">
            {waiting.length > 0
              ? `Loading the shelf; ${listed(waiting)} will be inserted then.`
              : "Loading the shelf…"}
          </li>
        )}
        {matches.length === 0 && shelf.data && (
          <li className="muted flex flex-col items-start gap-2 p-3" data-testid="shelf-empty">
            Nothing on the shelf is called “{wanted.words}”.
            {SHOWN_ELSEWHERE.test(typed) && (
              <span>
                Curves need no part: choose a quantity under Watch, or with “+ Curve” in the
                recorder.
              </span>
            )}
            <span>Write it yourself:</span>
            <span className="flex gap-1">
              {(["equations", "code"] as const).map((kind) => (
                <button
                  key={kind}
                  type="button"
                  className="btn btn-xs"
                  onClick={() => askFor(kind)}
                  data-testid={`shelf-${kind}`}
                >
                  {kind === "equations" ? "+ Equations" : "+ Code"}
                </button>
              ))}
            </span>
          </li>
        )}
      </ul>
    </aside>
  );
}

const Item = memo(function Item({
  entry,
  active,
  domain,
  values,
  onTake,
}: {
  entry: Entry;
  active: boolean;
  domain: string;
  /** The values with which it would come, in words. */
  values: string;
  onTake: (entry: Entry) => void;
}) {
  const [seen, watch] = useInView();
  return (
    <button
      type="button"
      id={entry.group === RECENT ? undefined : `shelf-${entry.class}`}
      role="option"
      tabIndex={-1}
      aria-selected={active}
      className={`flex w-full items-center gap-2 px-2 py-1 text-left hover:bg-base-200 ${active ? "bg-base-200" : ""}`}
      title={`${entry.description}\n${entry.class}\nType a value behind its name to give it at once.`}
      draggable
      onDragStart={(event) => {
        event.dataTransfer.setData(DRAGGED, entry.class);
        event.dataTransfer.effectAllowed = "copy";
      }}
      onClick={() => onTake(entry)}
      data-testid={entry.group === RECENT ? undefined : `shelf-${entry.class}`}
    >
      <span ref={watch} className="h-10 w-10 shrink-0">
        {seen && <PartSymbol icon={entry.icon} name={entry.class} small />}
      </span>
      <span className="min-w-0">
        <span className="block truncate">{entry.name}</span>
        <span className="muted block truncate text-[11.5px]">
          {values ? (
            <span className="mono">{values}</span>
          ) : (
            <>
              {domain && `${domain} · `}
              {entry.description}
            </>
          )}
        </span>
      </span>
    </button>
  );
});
