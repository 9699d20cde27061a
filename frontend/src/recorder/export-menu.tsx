import { Download } from "lucide-react";
import { useState } from "react";

import type { RunDetail } from "../api/client";
import { useShownRuns } from "../state/shown-runs";
import { useTime } from "../state/time";
import { Popover } from "../ui/popover";

/** Data of the shown runs as files: all variables or those on strips, stored instants or an even grid. */
export function ExportMenu({ runs, names }: { runs: RunDetail[]; names: string[] }) {
  const [all, setAll] = useState(false);
  const [even, setEven] = useState("");
  const current = useShownRuns((s) => s.current);
  const { a, b } = useTime((s) => s.marks);
  const run = runs.find((r) => r.id === current) ?? runs.at(-1);
  if (!run) return null;
  const interval = Number(even);
  const query = new URLSearchParams({
    ...(all ? {} : { names: names.join(" ") }),
    ...(interval > 0 ? { interval: String(interval) } : {}),
    ...(a !== null && b !== null
      ? { low: String(Math.min(a, b)), high: String(Math.max(a, b)) }
      : {}),
  });
  return (
    <Popover
      label={
        <>
          <Download size={13} /> Export
        </>
      }
      title="Data as files"
      panelClass="flex w-72 flex-col gap-2 p-3"
      testid="export-menu"
      panelId="export-panel"
    >
      {(close) => (
        <>
          <p>
            Run {run.number}: {run.name}
          </p>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={all}
              onChange={(event) => setAll(event.target.checked)}
              data-testid="export-all"
            />
            all {run.variables.length} variables, not only the {names.length} on strips
          </label>
          <label className="flex items-center gap-2">
            every
            <input
              className="input input-xs mono w-20"
              value={even}
              placeholder="stored"
              onChange={(event) => setEven(event.target.value)}
              data-testid="export-interval"
            />{" "}
            s
          </label>
          {a !== null && b !== null && <p className="muted">Only from A to B.</p>}
          <div className="flex gap-1">
            {(["csv", "parquet", "xlsx"] as const).map((kind) => (
              <a
                key={kind}
                className="btn btn-sm font-normal"
                href={`/api/runs/${run.id}/export?kind=${kind}&${query}`}
                download
                onClick={close}
                data-testid={`export-${kind}`}
              >
                {{ csv: "CSV", parquet: "Parquet", xlsx: "Spreadsheet" }[kind]}
              </a>
            ))}
          </div>
        </>
      )}
    </Popover>
  );
}
