import {
  useRef,
  type ClipboardEvent,
  type FocusEvent,
  type KeyboardEvent,
  type MouseEvent,
} from "react";

import { copied, gridOf, isBetween, type Cell, type Grid } from "./cell-grid";

interface Options {
  /** The text of a cell; null where there is none. */
  textOf: (row: number, column: number) => string | null;
  /** Takes over a pasted block from a cell on; gives false where that is for others to take. */
  onPaste: (block: Grid, at: Cell) => boolean;
  /** Empties the cells between two corners; without it they cannot be emptied together. */
  onEmpty?: (from: Cell, to: Cell) => void;
}

/** What marks an element as a cell; those that are chosen together have `data-chosen` as well. */
export interface CellMarks {
  "data-cell": string;
}

function cellOf(element: HTMLElement): Cell {
  const [row = 0, column = 0] = element.dataset.cell!.split(" ").map(Number);
  return [row, column];
}

/**
 * Lets the fields of a table behave like the cells of a spreadsheet: arrows and Enter go from one to the next,
 * several are chosen with Shift, copied, pasted over and emptied together. The fields stand in elements that
 * `cell(row, column)` marks, inside an element with `host`.
 */
export function useCells({ textOf, onPaste, onEmpty }: Options) {
  // What is chosen is marked in the page alone: a long table is not drawn anew while one goes through it.
  const chosen = useRef<{ from: Cell; to: Cell }>({ from: [0, 0], to: [0, 0] });
  const table = useRef<HTMLElement | null>(null);
  const isSeveral = () => {
    const { from, to } = chosen.current;
    return from[0] !== to[0] || from[1] !== to[1];
  };
  const choose = (from: Cell, to: Cell) => {
    const before = isSeveral();
    chosen.current = { from, to };
    const several = isSeveral();
    if (!before && !several) return;
    for (const element of table.current?.querySelectorAll<HTMLElement>("[data-cell]") ?? [])
      element.toggleAttribute("data-chosen", several && isBetween(cellOf(element), from, to));
  };
  const placeOf = (event: { target: EventTarget }): Cell | null => {
    const marked = (event.target as HTMLElement).closest<HTMLElement>("[data-cell]");
    return marked && cellOf(marked);
  };
  const go = ([row, column]: Cell, extend: boolean) => {
    if (textOf(row, column) === null) return false;
    choose(extend ? chosen.current.from : [row, column], [row, column]);
    if (extend) return true;
    const field = table.current?.querySelector<HTMLElement>(
      `[data-cell="${row} ${column}"] :is(input, select)`,
    );
    field?.focus();
    return true;
  };

  const onKeyDownCapture = (event: KeyboardEvent<HTMLElement>) => {
    const at = placeOf(event);
    const field = event.target as HTMLInputElement;
    if (!at || event.ctrlKey || event.metaKey || event.altKey) return;
    const end = event.shiftKey && event.key !== "Enter" ? chosen.current.to : at;
    const typed = field.tagName === "INPUT" ? field.value.length : 0;
    const all = field.selectionStart === 0 && field.selectionEnd === typed;
    const sideways = (edge: boolean) => event.shiftKey || all || edge;
    let next: Cell | null = null;
    if (event.key === "Enter") next = [at[0] + (event.shiftKey ? -1 : 1), at[1]];
    else if (field.tagName === "SELECT") return;
    else if (event.key === "ArrowDown") next = [end[0] + 1, end[1]];
    else if (event.key === "ArrowUp") next = [end[0] - 1, end[1]];
    else if (event.key === "ArrowLeft" && sideways(field.selectionEnd === 0))
      next = [end[0], end[1] - 1];
    else if (event.key === "ArrowRight" && sideways(field.selectionStart === typed))
      next = [end[0], end[1] + 1];
    else if (isSeveral() && onEmpty && (event.key === "Delete" || event.key === "Backspace")) {
      event.preventDefault();
      event.stopPropagation();
      onEmpty(chosen.current.from, chosen.current.to);
      return;
    }
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    // Leaving a field keeps what was typed there.
    if (!go(next, event.shiftKey && event.key !== "Enter") && event.key === "Enter") field.blur();
  };
  const onCopy = (event: ClipboardEvent<HTMLElement>) => {
    if (!isSeveral() || !placeOf(event)) return;
    event.preventDefault();
    event.stopPropagation();
    event.clipboardData.setData(
      "text/plain",
      copied(textOf, chosen.current.from, chosen.current.to),
    );
  };
  const onPasteCapture = (event: ClipboardEvent<HTMLElement>) => {
    const at = placeOf(event);
    const text = event.clipboardData.getData("text/plain");
    if (!at || !/[\t\n]/.test(text.trimEnd()) || !onPaste(gridOf(text), at)) return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onMouseDownCapture = (event: MouseEvent<HTMLElement>) => {
    const at = placeOf(event);
    if (!at || !event.shiftKey) return;
    event.preventDefault();
    choose(chosen.current.from, at);
  };
  const onFocusCapture = (event: FocusEvent<HTMLElement>) => {
    const at = placeOf(event);
    if (at) choose(at, at);
  };
  return {
    host: {
      ref: (element: HTMLElement | null) => {
        table.current = element;
      },
      onKeyDownCapture,
      onCopy,
      onPasteCapture,
      onMouseDownCapture,
      onFocusCapture,
    },
    cell: (row: number, column: number): CellMarks => ({ "data-cell": `${row} ${column}` }),
  };
}
