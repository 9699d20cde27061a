import type { Sheet } from "../api/client";
import { BranchDots } from "./branch-dots";
import { CableTrunk } from "./cable-trunk";
import { sheetCables, wireKey } from "./cables";
import { boxOf } from "./geometry";
import { labelShifts } from "./label-places";
import { writtenNotes } from "./picture-frame";
import type { Lookup } from "./replay";
import { Symbol } from "./symbol";
import { Arrows } from "./arrows";
import { Wire } from "./wire";

/** The parts, wires and notes of a sheet; moving with values where a lookup is given for each part. */
export function SheetPicture({
  sheet,
  notes = true,
  lookupOf,
}: {
  sheet: Sheet;
  notes?: boolean;
  lookupOf?: ((component: string) => Lookup) | undefined;
}) {
  const shifts = labelShifts(sheet);
  return (
    <>
      {sheet.connections.map((c) => (
        <Wire key={`${c.from} ${c.to}`} connection={c} />
      ))}
      {sheetCables(sheet).map((cable) => (
        <CableTrunk key={`${cable.name} ${wireKey(cable.wires[0]!)}`} cable={cable} />
      ))}
      <BranchDots connections={sheet.connections} />
      <Arrows sheet={sheet} />
      {sheet.components.map((c) => {
        const box = boxOf(c.extent);
        return (
          <g key={c.name} transform={`translate(${box.x} ${box.y})`}>
            <Symbol component={c} lookup={lookupOf?.(c.name)} shift={shifts.get(c.name)} />
          </g>
        );
      })}
      {notes &&
        writtenNotes(sheet).map((note, i) => (
          <text key={i} x={note.x} y={note.y} fontSize={12} fill="var(--color-secondary)">
            {note.text}
          </text>
        ))}
    </>
  );
}
