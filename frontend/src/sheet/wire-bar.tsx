import { X } from "lucide-react";
import { useMemo } from "react";

import type { Row, Sheet, SheetConnection } from "../api/client";
import { besides, sheetCables, wireKey } from "../drawing/cables";
import { quantitiesOf } from "../drawing/wire-quantities";
import type { Edit } from "../state/use-edits";
import { counted, formatUnit } from "../ui/format";

interface Props {
  sheet: Sheet;
  rows: Row[];
  /** The wires that are selected, each as its two ends with a blank between. */
  wires: string[];
  onEdit: (edit: Edit) => void;
  onChoose: (wires: string[]) => void;
}

const BAR = "absolute top-2 left-2 z-10 border border-base-300 bg-base-100 px-1 py-0.5";
const WORD = "btn btn-xs btn-ghost px-1.5 font-normal";

/** What can be done with selected wires: bundle those of two parts; a cable opens as the table of its wires. */
export function WireBar({ sheet, rows, wires, onEdit, onChoose }: Props) {
  const chosen = useMemo(
    () => sheet.connections.filter((c) => wires.includes(wireKey(c))),
    [sheet, wires],
  );
  const cable = useMemo(
    () => sheetCables(sheet).find((c) => c.wires.every((w) => chosen.includes(w))),
    [sheet, chosen],
  );
  const beside = besides(sheet.connections, chosen);
  if (cable && cable.wires.length === chosen.length)
    return <Opened cable={cable} sheet={sheet} rows={rows} onEdit={onEdit} onChoose={onChoose} />;
  if (beside.length < 2) return null;
  const wanted = chosen.length > 1 ? chosen : beside;
  return (
    <div className={BAR} role="toolbar" aria-label="Selected wires" data-testid="wire-bar">
      <span className="muted px-1">{counted(chosen.length, "wire")}</span>
      <button
        type="button"
        className={WORD}
        onClick={() => onEdit({ do: "bundle", wires: ends(wanted), cable: null })}
        title="Draw them as one line that opens as a table"
        data-testid="bundle"
      >
        {chosen.length > 1 ? "Bundle as a cable" : `Bundle all ${beside.length} of these two parts`}
      </button>
    </div>
  );
}

function ends(wires: SheetConnection[]) {
  return wires.map(({ from, to }) => ({ from, to }));
}

function Opened({
  cable,
  sheet,
  rows,
  onEdit,
  onChoose,
}: Omit<Props, "wires"> & { cable: { name: string; wires: SheetConnection[] } }) {
  const unitOf = (wire: SheetConnection) =>
    formatUnit(quantitiesOf(wire, sheet.connections, rows).shared?.unit ?? "");
  return (
    <div
      className={`${BAR} flex max-h-[60%] max-w-[calc(100%-1rem)] flex-col`}
      role="region"
      aria-label={`The wires of ${cable.name}`}
      data-testid="cable-table"
    >
      <div className="flex items-center gap-1">
        <input
          key={cable.name}
          className="input input-xs w-36"
          aria-label="Name of the cable"
          defaultValue={cable.name}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          onBlur={(event) => {
            const name = event.target.value.trim();
            if (name && name !== cable.name)
              onEdit({ do: "bundle", wires: ends(cable.wires), cable: name });
          }}
          data-testid="cable-name"
        />
        <span className="muted px-1">{counted(cable.wires.length, "wire")}</span>
        <button
          type="button"
          className={WORD}
          onClick={() => onEdit({ do: "bundle", wires: ends(cable.wires), cable: "" })}
          title="Draw each as a line of its own again"
          data-testid="split-cable"
        >
          Split
        </button>
        <button
          type="button"
          className={WORD}
          onClick={() => {
            onEdit({ do: "delete", wires: ends(cable.wires) });
            onChoose([]);
          }}
          title="Take all its wires away (Del)"
        >
          Delete
        </button>
      </div>
      <div className="overflow-auto">
        <table className="w-full" data-testid="cable-pairs">
          <tbody>
            {cable.wires.map((wire) => (
              <tr key={wireKey(wire)} className="rule-t">
                <td className="mono px-1">{wire.direction === "backward" ? wire.to : wire.from}</td>
                <td className="mono px-1">
                  {wire.direction ? "→" : "–"} {wire.direction === "backward" ? wire.from : wire.to}
                </td>
                <td className="muted px-1">{unitOf(wire)}</td>
                <td className="w-6 text-right">
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs btn-square"
                    onClick={() => {
                      onEdit({ do: "bundle", wires: ends([wire]), cable: "" });
                      onChoose(cable.wires.filter((w) => w !== wire).map(wireKey));
                    }}
                    aria-label={`Take ${wire.from} and ${wire.to} out of the cable`}
                    title="Out of the cable, as a line of its own"
                  >
                    <X size={12} />
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
