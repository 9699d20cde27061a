import { useState } from "react";

import type { ModelView, SeenRun } from "../api/client";
import { KINDS, type Tile } from "./grid";

interface Props {
  view: ModelView;
  tile: Tile;
  run: SeenRun | undefined;
  onKeep: (tile: Tile) => void;
}

/** Numbers of a text: with spaces or semicolons between them. */
function numbersOf(text: string): number[] {
  return text
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((word) => Number(word.replace(",", ".")))
    .filter(Number.isFinite);
}

/** What a tile shows: its variables, title, the ends of its scale. */
export function TileForm({ view, tile, run, onKeep }: Props) {
  const [draft, setDraft] = useState(tile);
  const [typed, setTyped] = useState("");
  const change = (part: Partial<Tile>) => setDraft((now) => ({ ...now, ...part }));
  const kind = KINDS[tile.kind];
  const choices =
    tile.kind === "knob"
      ? view.rows.filter((r) => r.group === "set").map((r) => r.name)
      : run
        ? run.variables.map((v) => v.name)
        : view.rows.filter((r) => r.group === "watch").map((r) => r.name);
  const add = (name: string) => {
    const wanted = name.trim();
    if (!choices.includes(wanted) || draft.names.includes(wanted)) return;
    change({ names: [...draft.names, wanted].slice(-kind.most) });
    setTyped("");
  };
  const bound = (key: "low" | "high", label: string) => (
    <label className="flex items-center gap-2">
      <span className="w-28">{label}</span>
      <input
        className="input input-xs mono w-28"
        defaultValue={draft[key] ?? ""}
        onChange={(event) => change({ [key]: numbersOf(event.target.value)[0] ?? null })}
        data-testid={`tile-${key}`}
      />
    </label>
  );
  return (
    <form
      className="flex w-96 flex-col gap-2"
      data-testid="tile-form"
      onSubmit={(event) => {
        event.preventDefault();
        onKeep(draft);
      }}
    >
      <h3 className="font-semibold">{kind.words}</h3>
      <label className="flex items-center gap-2">
        <span className="w-28">title</span>
        <input
          className="input input-xs flex-1"
          value={draft.title}
          onChange={(event) => change({ title: event.target.value })}
          data-testid="tile-title"
        />
      </label>
      {kind.most > 0 && (
        <>
          <label className="flex items-center gap-2">
            <span className="w-28">{tile.kind === "knob" ? "parameter" : "quantity"}</span>
            <input
              className="input input-xs mono flex-1"
              list="tile-quantities"
              placeholder="type a name, Enter adds it"
              value={typed}
              onChange={(event) => {
                setTyped(event.target.value);
                if (choices.includes(event.target.value)) add(event.target.value);
              }}
              onKeyDown={(event) => {
                if (event.key !== "Enter") return;
                event.preventDefault();
                add(typed);
              }}
              data-testid="tile-quantity"
            />
          </label>
          <datalist id="tile-quantities">
            {choices.slice(0, 3000).map((name) => (
              <option key={name} value={name} />
            ))}
          </datalist>
          {draft.names.length > 0 && (
            <ul className="flex flex-wrap gap-1 pl-30">
              {draft.names.map((name) => (
                <li key={name} className="mono flex items-center gap-1 border border-base-300 px-1">
                  {name}
                  <button
                    type="button"
                    aria-label={`Take ${name} off`}
                    onClick={() => change({ names: draft.names.filter((n) => n !== name) })}
                  >
                    ✕
                  </button>
                </li>
              ))}
            </ul>
          )}
          {typed && !choices.some((name) => name.includes(typed)) && (
            <p className="muted text-[12px]">
              {run ? "There is no such quantity." : "Run the model once; then all are listed."}
            </p>
          )}
        </>
      )}
      {tile.kind === "lamp" && bound("low", "lit above")}
      {["strip", "instrument", "bar", "knob"].includes(tile.kind) && (
        <>
          {bound("low", "scale from")}
          {bound("high", "to")}
        </>
      )}
      {["instrument", "bar", "number"].includes(tile.kind) && (
        <label className="flex items-center gap-2">
          <span className="w-28">well between</span>
          <input
            className="input input-xs mono w-40"
            placeholder="low and high"
            defaultValue={draft.good.join(" ")}
            onChange={(event) => change({ good: numbersOf(event.target.value).slice(0, 2) })}
            data-testid="tile-good"
          />
        </label>
      )}
      {tile.kind === "text" && (
        <textarea
          className="textarea textarea-sm"
          rows={4}
          aria-label="Text"
          value={draft.text}
          onChange={(event) => change({ text: event.target.value })}
          data-testid="tile-text"
        />
      )}
      <button
        type="submit"
        className="btn btn-primary btn-sm self-end"
        disabled={kind.most > 0 && draft.names.length === 0}
        data-testid="tile-keep"
      >
        Keep
      </button>
    </form>
  );
}
