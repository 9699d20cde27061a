import { useRef, useState } from "react";

import {
  copied,
  emptied,
  gridOf,
  isBetween,
  pasted,
  textOf,
  withRoom,
  written,
  type Cell,
  type Grid,
} from "./cell-grid";

/** Steps that can be taken back. */
const MOST_STEPS = 200;

interface Props {
  /** The cells at the beginning: a row in each line, parted by tabulators. */
  text: string;
  label: string;
  testid: string;
  onChange: (text: string) => void;
  onKeep: () => void;
  onClose: () => void;
}

/** Cells that are typed into, pasted, copied and taken back as in a spreadsheet. */
export function Cells({ text, label, testid, onChange, onKeep, onClose }: Props) {
  const [grid, setGrid] = useState<Grid>(() => withRoom(gridOf(text)));
  const [from, setFrom] = useState<Cell>([0, 0]);
  const [to, setTo] = useState<Cell>([0, 0]);
  const past = useRef<Grid[]>([]);
  const future = useRef<Grid[]>([]);
  const host = useRef<HTMLTableElement>(null);
  const several = from[0] !== to[0] || from[1] !== to[1];
  const show = (next: Grid) => {
    setGrid(next);
    onChange(textOf(next));
  };
  const change = (next: Grid) => {
    past.current = [...past.current, grid].slice(-MOST_STEPS);
    future.current = [];
    show(next);
  };
  const step = (back: boolean) => {
    const [source, goal] = back ? [past, future] : [future, past];
    const next = source.current.pop();
    if (!next) return;
    goal.current.push(grid);
    show(next);
  };
  const go = ([row, column]: Cell, extend = false) => {
    const at: Cell = [
      Math.min(Math.max(row, 0), grid.length - 1),
      Math.min(Math.max(column, 0), grid[0]!.length - 1),
    ];
    setTo(at);
    if (extend) return;
    setFrom(at);
    const input = host.current?.querySelector<HTMLInputElement>(`[data-cell="${at.join(" ")}"]`);
    input?.focus();
    input?.select();
  };
  const onKey = (event: React.KeyboardEvent<HTMLInputElement>, [row, column]: Cell) => {
    const field = event.currentTarget;
    const command = event.ctrlKey || event.metaKey;
    const at = event.shiftKey ? to : ([row, column] as const);
    const moves: Record<string, Cell> = {
      ArrowUp: [at[0] - 1, at[1]],
      ArrowDown: [at[0] + 1, at[1]],
      ArrowLeft: [at[0], at[1] - 1],
      ArrowRight: [at[0], at[1] + 1],
    };
    const move = moves[event.key];
    const atEdge =
      event.key === "ArrowLeft"
        ? field.selectionEnd === 0 || field.selectionStart === 0
        : field.selectionEnd === field.value.length;
    const sideways = event.key === "ArrowLeft" || event.key === "ArrowRight";
    const action =
      event.key === "Enter"
        ? command
          ? onKeep
          : () => go([row + (event.shiftKey ? -1 : 1), column])
        : event.key === "Escape"
          ? onClose
          : command && event.key.toLowerCase() === "z"
            ? () => step(!event.shiftKey)
            : command && event.key.toLowerCase() === "y"
              ? () => step(false)
              : move && (event.shiftKey || !sideways || atEdge)
                ? () => go(move, event.shiftKey)
                : (event.key === "Delete" || event.key === "Backspace") && several
                  ? () => change(emptied(grid, from, to))
                  : null;
    if (!action) return;
    event.preventDefault();
    event.stopPropagation();
    action();
  };
  return (
    <div className="max-h-60 overflow-auto border border-base-300" data-own-keys>
      <table ref={host} className="w-full" aria-label={label} data-testid={testid}>
        <tbody>
          {grid.map((row, r) => (
            <tr key={r}>
              <th scope="row" className="muted w-8 px-1 text-right text-[11px] font-normal">
                {r + 1}
              </th>
              {row.map((cell, c) => (
                <td key={c} className="border-l border-base-300">
                  <input
                    className={`mono w-full min-w-14 px-1 text-right text-[12px] outline-none focus:shadow-[inset_0_0_0_1.5px_var(--color-primary)] ${several && isBetween([r, c], from, to) ? "bg-base-200" : "bg-transparent"}`}
                    value={cell}
                    aria-label={`row ${r + 1}, column ${c + 1}`}
                    spellCheck={false}
                    onFocus={(event) => {
                      event.target.select();
                      setFrom([r, c]);
                      setTo([r, c]);
                    }}
                    onMouseDown={(event) => {
                      if (!event.shiftKey) return;
                      event.preventDefault();
                      setTo([r, c]);
                    }}
                    onChange={(event) => change(written(grid, [r, c], event.target.value))}
                    onKeyDown={(event) => onKey(event, [r, c])}
                    onCopy={(event) => {
                      if (!several) return;
                      event.preventDefault();
                      event.clipboardData.setData("text/plain", copied(grid, from, to));
                    }}
                    onPaste={(event) => {
                      const block = event.clipboardData.getData("text/plain");
                      if (!/[\t\n]/.test(block.trimEnd())) return;
                      event.preventDefault();
                      event.stopPropagation();
                      change(pasted(grid, [r, c], block));
                    }}
                    data-cell={`${r} ${c}`}
                    data-testid={`${testid}-${r + 1}-${c + 1}`}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
