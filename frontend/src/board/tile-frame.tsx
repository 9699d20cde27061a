import { Settings2, Trash2 } from "lucide-react";
import type { ReactNode } from "react";

import { Popover } from "../ui/popover";
import { KINDS, ROW, type Box, type Tile } from "./grid";
import { Handle } from "./handle";

interface Props {
  tile: Tile;
  arranging: boolean;
  /** Width of a column in pixels. */
  column: number;
  onBox: (box: Box, done: boolean) => void;
  onDelete: () => void;
  form: (close: () => void) => ReactNode;
  children: ReactNode;
}

const GAP = 6;

/** A tile at its place; while one arranges, its head is dragged to move it and its corner to resize it. */
export function TileFrame({ tile, arranging, column, onBox, onDelete, form, children }: Props) {
  const onKeyDown = (event: React.KeyboardEvent) => {
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    const [dx, dy] = step;
    onBox(
      event.shiftKey
        ? { ...tile, width: tile.width + dx, height: tile.height + dy }
        : { ...tile, x: tile.x + dx, y: tile.y + dy },
      true,
    );
  };
  const title = tile.title || tile.names.join(", ") || KINDS[tile.kind].words;
  return (
    <section
      className={`absolute flex flex-col border bg-base-100 ${arranging ? "border-primary" : "border-base-300"}`}
      style={{
        left: tile.x * column + GAP / 2,
        top: tile.y * ROW + GAP / 2,
        width: tile.width * column - GAP,
        height: tile.height * ROW - GAP,
      }}
      aria-label={title}
      data-testid={`tile-${tile.kind}`}
    >
      <header className="flex items-center gap-1 px-1">
        {arranging ? (
          <Handle
            box={tile}
            column={column}
            className="muted min-w-0 flex-1 cursor-move truncate text-[12px]"
            testid="tile-head"
            onBox={onBox}
          >
            <button
              type="button"
              className="w-full cursor-move truncate text-left"
              aria-label={`Move ${title} with the arrow keys, resize it with Shift`}
              onKeyDown={onKeyDown}
            >
              {title}
            </button>
          </Handle>
        ) : (
          <h3 className="muted min-w-0 flex-1 truncate text-[12px]" title={title}>
            {title}
          </h3>
        )}
        {arranging && (
          <span className="flex">
            <Popover
              label={<Settings2 size={12} />}
              words={`What ${title} shows`}
              title="What it shows"
              className="btn btn-ghost btn-xs px-0.5"
              testid="tile-edit"
            >
              {form}
            </Popover>
            <button
              type="button"
              className="btn btn-ghost btn-xs px-0.5"
              onClick={onDelete}
              aria-label={`Take ${title} off the board`}
              data-testid="tile-delete"
            >
              <Trash2 size={12} />
            </button>
          </span>
        )}
      </header>
      <div className="min-h-0 flex-1 overflow-hidden">{children}</div>
      {arranging && (
        <Handle
          box={tile}
          column={column}
          resizes
          className="absolute right-0 bottom-0 h-4 w-4 cursor-nwse-resize border-r-3 border-b-3 border-primary"
          testid="tile-corner"
          onBox={onBox}
        />
      )}
    </section>
  );
}
