import { useStore } from "@xyflow/react";

import type { Row, RunDetail, Sheet } from "../api/client";
import { CarriedMarks, type Values } from "../drawing/carried-marks";
import type { WireMarks } from "../state/place";
import { Overlay } from "./overlay";

interface Props {
  sheet: Sheet;
  rows: Row[];
  run: RunDetail | undefined;
  values: Values | undefined;
  marks: WireMarks;
}

/** What the wires carry at the time cursor, on the sheet; words keep their size on the screen. */
export function WireValues({ sheet, rows, run, values, marks }: Props) {
  const size = useStore((s) => 1 / Math.max(s.transform[2], 0.25));
  if (marks === "plain" || !values || !run) return null;
  return (
    <Overlay data-testid="wire-values">
      <CarriedMarks
        sheet={sheet}
        rows={rows}
        variables={run.variables}
        values={values}
        marks={marks}
        size={size}
      />
    </Overlay>
  );
}
