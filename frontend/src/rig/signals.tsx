import { ChevronDown, ChevronRight } from "lucide-react";
import { useState } from "react";

import type { SheetConnection } from "../api/client";
import { counted, formatUnit } from "../ui/format";
import { cablesOf, perCent, portName, type Cable } from "./cables";
import type { Difference } from "./use-step-check";
import type { Signal } from "./use-rig";

interface Props {
  signals: Signal[];
  /** The wires of the sheet, of which those between two units can be drawn as one line. */
  wires: SheetConnection[];
  onBundle: (wires: SheetConnection[], cable: string | null) => void;
  differences: Map<string, Difference>;
  onCut: (signal: Signal) => void;
}

/** The signals between units, those of two units together as a cable that opens as a table of its pairs. */
export function Signals({ signals, wires, onBundle, differences, onCut }: Props) {
  const cables = cablesOf(signals);
  if (cables.length === 0)
    return <p className="muted">No signals yet. Wire ports on the sheet, or take proposals.</p>;
  return (
    <ul className="flex flex-col" data-testid="cables">
      {cables.map((cable) => (
        <CableRow
          key={cable.key}
          cable={cable}
          wires={wires.filter((w) =>
            cable.signals.some(
              (s) =>
                (s.source === w.from && s.target === w.to) ||
                (s.source === w.to && s.target === w.from),
            ),
          )}
          onBundle={onBundle}
          differences={differences}
          onCut={onCut}
        />
      ))}
    </ul>
  );
}

function CableRow({
  cable,
  wires,
  onBundle,
  differences,
  onCut,
}: {
  cable: Cable;
  wires: SheetConnection[];
  onBundle: Props["onBundle"];
  differences: Map<string, Difference>;
  onCut: (signal: Signal) => void;
}) {
  const [open, setOpen] = useState(cable.signals.length <= 6);
  const bundled = wires.some((w) => w.cable);
  const worst = Math.max(
    ...cable.signals.map((s) => differences.get(`${s.source} ${s.target}`)?.largest ?? -1),
  );
  const converted = cable.signals.filter((s) => s.conversion).length;
  return (
    <li className="rule-b relative">
      {wires.length > 1 && (
        <button
          type="button"
          className="btn btn-ghost btn-xs absolute top-0.5 right-0 font-normal"
          onClick={() => onBundle(wires, bundled ? "" : null)}
          title={bundled ? "Draw each as a line of its own" : "Draw them as one line on the sheet"}
          data-testid={`bundle-${cable.from}-${cable.to}`}
        >
          {bundled ? "Split on the sheet" : "One line on the sheet"}
        </button>
      )}
      <button
        type="button"
        className="flex w-full items-center gap-2 py-1 text-left"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        data-testid={`cable-${cable.from}-${cable.to}`}
      >
        {open ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
        <span className="font-medium">
          {cable.from} → {cable.to}
        </span>
        <span className="muted">
          {counted(cable.signals.length, "signal")}
          {converted > 0 && `, ${converted} converted`}
          {worst >= 0 && `, at most ${perCent(worst)} at half the step`}
        </span>
      </button>
      {open && (
        <table className="mb-1 ml-5 w-[calc(100%-1.25rem)]">
          <tbody>
            {cable.signals.map((s) => {
              const difference = differences.get(`${s.source} ${s.target}`);
              return (
                <tr key={`${s.source} ${s.target}`} className="align-baseline" data-testid="signal">
                  <td className="mono w-1/4 truncate pr-2" title={s.source}>
                    {portName(s.source)}
                  </td>
                  <td className="mono w-1/4 truncate pr-2" title={s.target}>
                    → {portName(s.target)}
                  </td>
                  <td className="muted pr-2 whitespace-nowrap">
                    {s.conversion || formatUnit(s.unit)}
                  </td>
                  <td
                    className="pr-2 text-right whitespace-nowrap"
                    title={
                      difference &&
                      `most at ${difference.at.toPrecision(4)} s, on average ${perCent(difference.mean)}`
                    }
                  >
                    {difference && perCent(difference.largest)}
                  </td>
                  <td className="w-6 text-right">
                    <button
                      type="button"
                      className="btn btn-ghost btn-xs px-1"
                      onClick={() => onCut(s)}
                      aria-label={`Take the wire ${s.source} to ${s.target} away`}
                      title="Take this wire away"
                    >
                      ✕
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </li>
  );
}
