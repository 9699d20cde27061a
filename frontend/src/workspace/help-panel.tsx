import { X } from "lucide-react";

const KEYS: [string, string][] = [
  ["Ctrl+Enter", "run the model"],
  ["Ctrl+Z, Ctrl+Shift+Z", "undo, redo"],
  ["/", "insert a part by its name, with a value: resistor 10k"],
  ["Tab, Enter", "go to a part or wire, select it"],
  ["Ctrl+click, Shift+drag", "select several parts"],
  ["Ctrl+A, L", "select all, all along the wires"],
  ["arrows, with Shift", "nudge the selected parts, farther"],
  ["R, M, A", "turn, mirror, arrange the whole sheet"],
  ["C", "connect the selected part, port by port"],
  ["S", "let the selected wire find its way"],
  ["Ctrl+C, X, V, D", "copy, cut, paste, duplicate (or Alt+drag)"],
  ["Delete", "delete what is selected"],
  ["G, O, U", "make an assembly, step in, step out"],
  ["W", "values or flow at the wires"],
  ["Alt+click on a wire", "what it carries onto a strip"],
  ["E, N", "new component of equations, new note"],
  ["Ctrl+S", "keep the text, in the view Text"],
  ["F, +, −", "show the whole sheet, zoom in, zoom out"],
  ["← →, with Shift", "move the time cursor in the recorder, in larger steps"],
  ["Home, End, Esc", "cursor to the start, to the end, off"],
  ["A, B, M, P, F", "marks, measures, replay, find a curve in the recorder"],
  ["+, −, Backspace, 0", "zoom the time axis, back to the zoom before, show all"],
  ["Alt+↑ ↓, Delete", "move a curve to the next strip, take it off"],
  ["Enter, Esc", "keep a value, give it up"],
  ["↑ ↓, Shift+arrows", "in a table: the next cell, several cells"],
  ["?", "this list"],
];

export function HelpPanel({ onClose }: { onClose: () => void }) {
  return (
    <div
      role="dialog"
      aria-label="Keys and help"
      className="absolute top-11 right-3 z-40 w-[26rem] border border-base-300 bg-base-100 p-4 shadow-lg"
      data-testid="help"
    >
      <div className="flex justify-between pb-2">
        <h2 className="text-[15px] font-semibold">Keys</h2>
        <button
          type="button"
          className="btn btn-ghost btn-xs px-1"
          onClick={onClose}
          aria-label="Close"
        >
          <X size={14} />
        </button>
      </div>
      <dl className="grid grid-cols-[10rem_1fr] gap-y-1">
        {KEYS.map(([key, meaning]) => (
          <div key={key} className="contents">
            <dt className="mono">{key}</dt>
            <dd>{meaning}</dd>
          </div>
        ))}
      </dl>
      <p className="muted pt-3">
        Values take any fitting unit: <span className="mono">30 cm</span>,{" "}
        <span className="mono">0.3</span> or <span className="mono">2*0.15</span>. Every edit is
        kept at once.
      </p>
    </div>
  );
}
