import { useMemo, useState } from "react";

import type { Sheet } from "../api/client";
import { misfit, portName, type End } from "./building";

interface Props {
  sheet: Sheet;
  /** The part from which the wire starts. */
  part: string;
  onPicked: (from: End, to: End) => void;
  onClose: () => void;
}

function portsOf(sheet: Sheet, part: string): End[] {
  const component = sheet.components.find((c) => c.name === part);
  if (!component) return [];
  return component.port
    ? [{ part, port: "" }]
    : component.icon.ports.map((p) => ({ part, port: p.name }));
}

/** Connecting with the keyboard: first a port of the selected part, then where the wire is to end. */
export function ConnectPicker({ sheet, part, onPicked, onClose }: Props) {
  const own = useMemo(() => portsOf(sheet, part), [sheet, part]);
  const [from, setFrom] = useState<End | null>(own.length === 1 ? own[0]! : null);
  const [typed, setTyped] = useState("");
  const [chosen, setChosen] = useState(0);
  const options = useMemo(() => {
    const ends = from
      ? sheet.components
          .flatMap((c) => portsOf(sheet, c.name))
          .filter((e) => e.part !== from.part || e.port !== from.port)
      : own;
    return ends
      .map((end) => ({
        end,
        name: portName(end.part, end.port),
        why: from ? misfit(sheet, from, end) : "",
      }))
      .filter((o) => o.name.toLowerCase().includes(typed.trim().toLowerCase()))
      .sort((a, b) => Number(a.why !== "") - Number(b.why !== ""));
  }, [from, own, sheet, typed]);
  const take = (i: number) => {
    const option = options[i];
    if (!option || option.why) return;
    if (!from) {
      setFrom(option.end);
      setTyped("");
      setChosen(0);
    } else onPicked(from, option.end);
  };
  return (
    <div
      role="dialog"
      aria-label="Connect with the keyboard"
      className="absolute top-12 left-2 z-20 w-80 border border-base-300 bg-base-100 p-2 shadow-md"
      data-testid="connect-picker"
    >
      <p className="pb-1">
        {from
          ? `Wire from ${portName(from.part, from.port)} to`
          : `Wire from which port of ${part}?`}
      </p>
      <input
        autoFocus
        className="input input-sm w-full"
        aria-label={from ? "Port to connect with" : "Port to start from"}
        role="combobox"
        aria-expanded="true"
        aria-controls="connect-options"
        aria-activedescendant={options[chosen] ? `connect-${options[chosen].name}` : undefined}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setChosen(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setChosen((n) => Math.min(n + 1, options.length - 1));
          else if (event.key === "ArrowUp") setChosen((n) => Math.max(n - 1, 0));
          else if (event.key === "Enter") take(chosen);
          else if (event.key === "Escape") onClose();
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        data-testid="connect-search"
      />
      <ul
        id="connect-options"
        role="listbox"
        aria-label="Ports"
        className="max-h-60 overflow-y-auto pt-1"
      >
        {options.slice(0, 60).map((option, i) => (
          <li
            key={option.name}
            id={`connect-${option.name}`}
            role="option"
            aria-selected={i === chosen}
            aria-disabled={option.why !== ""}
            className={`flex justify-between gap-2 px-1.5 py-0.5 ${i === chosen ? "bg-base-200" : ""} ${option.why ? "muted" : "cursor-pointer"}`}
            onClick={() => take(i)}
            onKeyDown={(event) => event.key === "Enter" && take(i)}
            tabIndex={-1}
          >
            <span className="truncate">{option.name}</span>
            {option.why && <span className="truncate text-[11.5px]">{option.why}</span>}
          </li>
        ))}
        {options.length === 0 && <li className="muted px-1.5">No port has that name.</li>}
      </ul>
    </div>
  );
}
