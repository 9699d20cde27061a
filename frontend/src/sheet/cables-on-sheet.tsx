import { useMemo, type MouseEvent } from "react";

import type { Sheet } from "../api/client";
import { sheetCables, wireKey, type SheetCable } from "../drawing/cables";
import { CableTrunk } from "../drawing/cable-trunk";
import { wirePath } from "../drawing/geometry";
import { Overlay } from "./overlay";

interface Props {
  sheet: Sheet;
  /** The wires that are selected. */
  wires: string[];
  onChoose: (cable: SheetCable, more: boolean) => void;
  onMenu: (event: MouseEvent, cable: SheetCable) => void;
}

/** The lines of the cables over their wires; a click takes all wires of one. */
export function CablesOnSheet({ sheet, wires, onChoose, onMenu }: Props) {
  const cables = useMemo(() => sheetCables(sheet), [sheet]);
  if (cables.length === 0) return null;
  return (
    <Overlay>
      {cables.map((cable) => (
        <g
          key={`${cable.name} ${wireKey(cable.wires[0]!)}`}
          className="cursor-pointer"
          style={{ pointerEvents: "stroke" }}
          onClick={(event) => onChoose(cable, event.shiftKey || event.ctrlKey || event.metaKey)}
          onContextMenu={(event) => onMenu(event, cable)}
          data-testid={`cable-line-${cable.name}`}
        >
          <path d={wirePath(cable.trunk)} fill="none" strokeOpacity={0} strokeWidth={16} />
          <CableTrunk cable={cable} />
          {cable.wires.every((wire) => wires.includes(wireKey(wire))) && (
            <path d={wirePath(cable.trunk)} className="wire-chosen" fill="none" />
          )}
        </g>
      ))}
    </Overlay>
  );
}
