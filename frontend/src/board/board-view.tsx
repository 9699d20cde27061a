import { useQuery } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useLayoutEffect, useRef, useState } from "react";

import { ask, client, type ModelView, type SeenRun } from "../api/client";
import type { Edits } from "../state/use-edits";
import { Popover } from "../ui/popover";
import { arranged, COLUMNS, freePlace, KINDS, ROW, rowsOf, type Kind, type Tile } from "./grid";
import { Bar, Instrument, Lamp, NumberTile, ValueTable } from "./instruments";
import { Knob } from "./knob";
import { RunButtons } from "./run-buttons";
import { StripTile } from "./strip-tile";
import { TileForm } from "./tile-form";
import { TileFrame } from "./tile-frame";
import { useLiveValues } from "./use-live-values";

interface Props {
  view: ModelView;
  edits: Edits;
  run: SeenRun | undefined;
  onFault: (sentence: string | null) => void;
}

/** What is looked at while the model runs, arranged on a grid and kept with the model. */
export default function BoardView({ view, edits, run, onFault }: Props) {
  const { data: kept } = useQuery({
    queryKey: ["board", view.project, view.model, view.mark],
    queryFn: async () =>
      (
        await ask(
          client.GET("/api/projects/{project}/models/{model}/board", {
            params: { path: { project: view.project, model: view.model } },
          }),
        )
      ).tiles,
    placeholderData: (before) => before,
  });
  const [draft, setDraft] = useState<Tile[] | null>(null);
  const [arranging, setArranging] = useState(false);
  const host = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const there = kept !== undefined;
  useLayoutEffect(() => {
    if (!host.current) return;
    const watcher = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    watcher.observe(host.current);
    return () => watcher.disconnect();
  }, [there]);
  const tiles = draft ?? kept ?? [];
  const names = [
    ...new Set(tiles.flatMap((t) => (t.kind === "strip" || t.kind === "knob" ? [] : t.names))),
  ];
  const live = useLiveValues(run, names);
  const keep = (next: Tile[], summary: string) => {
    setDraft(next);
    edits.mutate({ do: "board", tiles: next, summary }, { onSettled: () => setDraft(null) });
  };
  const change = (index: number, tile: Tile) =>
    keep(
      tiles.map((t, k) => (k === index ? tile : t)),
      `changed ${KINDS[tile.kind].words.toLowerCase()} on the board`,
    );
  const column = width / COLUMNS;
  if (!kept) return <p className="muted p-4">Opening…</p>;
  return (
    <div className="flex h-full flex-col bg-base-200" data-testid="board-view">
      <div className="rule-b flex flex-wrap items-center gap-3 bg-base-100 px-3 py-1">
        <RunButtons run={run} coupled={view.rig !== null} onFault={onFault} />
        <span className="ml-auto" />
        <Popover
          label={
            <>
              <Plus size={13} /> Tile
            </>
          }
          title="Put something on the board"
          className="btn btn-sm"
          testid="add-tile"
        >
          {(close) => (
            <Adding
              view={view}
              run={run}
              onAdd={(tile) => {
                close();
                setArranging(true);
                const { width: w, height: h } = KINDS[tile.kind];
                keep(
                  [...tiles, { ...tile, ...freePlace(tiles, w, h) }],
                  `put a ${KINDS[tile.kind].words.toLowerCase()} on the board`,
                );
              }}
            />
          )}
        </Popover>
        <button
          type="button"
          className={`btn btn-sm ${arranging ? "btn-primary" : ""}`}
          aria-pressed={arranging}
          disabled={tiles.length === 0}
          onClick={() => setArranging(!arranging)}
          title="Move tiles by their heads, resize them at the corner; arrow keys do it, too"
          data-testid="arrange-board"
        >
          {arranging ? "Done" : "Arrange"}
        </button>
      </div>
      {tiles.length === 0 ? (
        <div className="m-auto max-w-md text-center">
          <p className="font-medium">Nothing is watched yet.</p>
          <p className="muted">
            Put strips, instruments, lamps and knobs on the board; they are live while the model
            runs, and follow the time cursor afterwards.
          </p>
        </div>
      ) : null}
      <div className="min-h-0 flex-1 overflow-auto p-1">
        <div ref={host} className="relative" style={{ height: (rowsOf(tiles) + 2) * ROW }}>
          {width > 0 &&
            tiles.map((tile, k) => (
              <TileFrame
                key={k}
                tile={tile}
                arranging={arranging}
                column={column}
                onBox={(box, done) => {
                  const next = arranged(kept.length === tiles.length ? kept : tiles, k, box);
                  if (done) keep(next, "arranged the watch board");
                  else setDraft(next);
                }}
                onDelete={() =>
                  keep(
                    tiles.filter((_, i) => i !== k),
                    `took ${KINDS[tile.kind].words.toLowerCase()} off the board`,
                  )
                }
                form={(close) => (
                  <TileForm
                    view={view}
                    tile={tile}
                    run={run}
                    onKeep={(changed) => {
                      close();
                      change(k, changed);
                    }}
                  />
                )}
              >
                <Content tile={tile} run={run} live={live} />
              </TileFrame>
            ))}
        </div>
      </div>
    </div>
  );
}

function Content({
  tile,
  run,
  live,
}: {
  tile: Tile;
  run: SeenRun | undefined;
  live: ReturnType<typeof useLiveValues>;
}) {
  const name = tile.names[0] ?? "";
  if (tile.kind === "text") return <p className="px-2 whitespace-pre-wrap">{tile.text}</p>;
  if (tile.kind === "knob") return <Knob tile={tile} run={run} />;
  if (run && name && !live.known(name) && tile.kind !== "table")
    return <p className="muted px-2 text-[12px]">The run has no {name}.</p>;
  const shown = live.shown(name);
  switch (tile.kind) {
    case "strip":
      return <StripTile tile={tile} run={run} />;
    case "instrument":
      return <Instrument tile={tile} shown={shown} />;
    case "number":
      return <NumberTile tile={tile} shown={shown} />;
    case "lamp":
      return <Lamp tile={tile} shown={shown} />;
    case "bar":
      return <Bar tile={tile} shown={shown} />;
    case "table":
      return <ValueTable names={tile.names} shown={live.shown} />;
  }
}

/** Choosing the kind of a new tile, then what it shows. */
function Adding({
  view,
  run,
  onAdd,
}: {
  view: ModelView;
  run: SeenRun | undefined;
  onAdd: (tile: Tile) => void;
}) {
  const [kind, setKind] = useState<Kind | null>(null);
  if (kind === null)
    return (
      <ul className="flex w-56 flex-col" aria-label="Kinds of tiles">
        {(Object.keys(KINDS) as Kind[]).map((k) => (
          <li key={k}>
            <button
              type="button"
              className="w-full px-2 py-1 text-left hover:bg-base-200"
              onClick={() => setKind(k)}
              data-testid={`new-${k}`}
            >
              {KINDS[k].words}
            </button>
          </li>
        ))}
      </ul>
    );
  const { width, height } = KINDS[kind];
  const fresh: Tile = {
    kind,
    x: 0,
    y: 0,
    width,
    height,
    names: [],
    title: "",
    low: null,
    high: null,
    good: [],
    text: "",
  };
  return <TileForm view={view} tile={fresh} run={run} onKeep={onAdd} />;
}
