import { useState } from "react";

import { formatNumber, withIn } from "../ui/format";
import type { PartProps } from "./part";

/** Every point in a row: values, measures, what became of it. */
export function PointTable({ sweep, picked, onPick }: PartProps) {
  const [failed, setFailed] = useState(false);
  const rows = (failed ? sweep.points.filter((p) => p.state === "failed") : sweep.points).slice(
    0,
    1000,
  );
  return (
    <div>
      <label className="flex items-center gap-2 py-1">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={failed}
          onChange={(event) => setFailed(event.target.checked)}
          data-testid="only-failed"
        />{" "}
        only those that failed
      </label>
      <table className="text-[12px]" data-testid="point-table">
        <thead>
          <tr className="text-left">
            <th className="pr-4">point</th>
            {sweep.varied.map((v) => (
              <th key={v.name} className="pr-4">
                {withIn(v.name, sweep.units[v.name])}
              </th>
            ))}
            {sweep.measures.map((text) => (
              <th key={text} className="pr-4">
                {withIn(text, sweep.units[text])}
              </th>
            ))}
            {sweep.claims.map((claim) => (
              <th key={claim.text} className="mono max-w-40 truncate pr-4" title={claim.text}>
                {claim.text}
              </th>
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {rows.map((p) => (
            <tr
              key={p.number}
              className={`rule-t cursor-pointer hover:bg-base-200 ${p.number === picked ? "bg-base-200" : ""}`}
              onClick={() => onPick(p.number)}
            >
              <td className="mono pr-4">{p.number + 1}</td>
              {sweep.varied.map((v) => (
                <td key={v.name} className="mono pr-4 text-right">
                  {formatNumber(p.values[v.name])}
                </td>
              ))}
              {sweep.measures.map((text, i) => (
                <td key={text} className="mono pr-4 text-right">
                  {typeof p.measures[i] === "number" ? formatNumber(p.measures[i]) : "–"}
                </td>
              ))}
              {sweep.claims.map((claim, i) => (
                <td key={claim.text} className={p.claims[i] === false ? "text-error" : ""}>
                  {p.claims[i] === true ? "✓" : p.claims[i] === false ? "✕ fails" : "–"}
                </td>
              ))}
              <td className={p.state === "failed" ? "text-error" : "muted"}>
                {p.reason || p.state}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {sweep.points.length > 1000 && (
        <p className="muted">The first 1000 rows; all of them are in the CSV file.</p>
      )}
    </div>
  );
}
