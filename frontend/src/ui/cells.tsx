import { useRef, useState } from "react";

import { emptied, gridOf, pasted, textOf, withRoom, written, type Grid } from "./cell-grid";
import { useCells } from "./use-cells";

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
  const past = useRef<Grid[]>([]);
  const future = useRef<Grid[]>([]);
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
  const { host, cell } = useCells({
    textOf: (row, column) => grid[row]?.[column] ?? null,
    onPaste: (block, at) => {
      change(pasted(grid, at, block));
      return true;
    },
    onEmpty: (from, to) => change(emptied(grid, from, to)),
  });
  const onKeyDown = (event: React.KeyboardEvent) => {
    const command = event.ctrlKey || event.metaKey;
    const key = event.key.toLowerCase();
    const action =
      command && key === "enter"
        ? onKeep
        : key === "escape"
          ? onClose
          : command && key === "z"
            ? () => step(!event.shiftKey)
            : command && key === "y"
              ? () => step(false)
              : null;
    if (!action) return;
    event.preventDefault();
    event.stopPropagation();
    action();
  };
  return (
    <div className="max-h-60 overflow-auto border border-base-300" data-own-keys>
      <table
        className="w-full"
        aria-label={label}
        data-testid={testid}
        {...host}
        onKeyDown={onKeyDown}
      >
        <tbody>
          {grid.map((row, r) => (
            <tr key={r}>
              <th scope="row" className="muted w-8 px-1 text-right text-[11px] font-normal">
                {r + 1}
              </th>
              {row.map((content, c) => (
                <td
                  key={c}
                  className="border-l border-base-300 data-chosen:bg-primary/15"
                  {...cell(r, c)}
                >
                  <input
                    className="mono w-full min-w-14 bg-transparent px-1 text-right text-[12px] outline-none focus:shadow-[inset_0_0_0_1.5px_var(--color-primary)]"
                    value={content}
                    aria-label={`row ${r + 1}, column ${c + 1}`}
                    spellCheck={false}
                    onFocus={(event) => event.target.select()}
                    onChange={(event) => change(written(grid, [r, c], event.target.value))}
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
