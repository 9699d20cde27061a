import { useState } from "react";

import type { ModelView } from "../api/client";
import { CURVE } from "../state/dragged-curve";
import { formatNumber, formatUnit } from "../ui/format";
import { dropped, watchedOf, type Columns, type Role } from "./columns";
import type { Preview } from "./types";
import { VariableChips } from "./variable-chips";

interface Props {
  view: ModelView;
  preview: Preview;
  columns: Columns;
  onChange: (columns: Columns) => void;
}

/** The columns of measurements, with what each of them is. */
export function ColumnRoles({ view, preview, columns, onChange }: Props) {
  const [over, setOver] = useState("");
  return (
    <>
      <table className="w-full">
        <thead>
          <tr className="muted rule-b text-left text-[12px]">
            <th className="font-normal">column</th>
            <th className="font-normal">first values</th>
            <th className="font-normal">is</th>
            <th className="font-normal">of the model</th>
          </tr>
        </thead>
        <tbody>
          {preview.columns.map((c) => {
            const now = columns[c.name] ?? { role: "", variable: "" };
            return (
              <tr
                key={c.name}
                className={over === c.name ? "bg-base-200" : ""}
                onDragOver={(event) => {
                  if (!event.dataTransfer.types.includes(CURVE)) return;
                  event.preventDefault();
                  setOver(c.name);
                }}
                onDragLeave={() => setOver("")}
                onDrop={(event) => {
                  setOver("");
                  const name = event.dataTransfer.getData(CURVE);
                  if (!name) return;
                  event.preventDefault();
                  onChange({ ...columns, [c.name]: dropped(now, name) });
                }}
                data-testid={`column-${c.name}`}
              >
                <td className="mono pr-3">
                  {c.name} <span className="muted">{formatUnit(c.unit)}</span>
                </td>
                <td className="mono muted pr-3">
                  {c.first
                    .slice(0, 4)
                    .map((v) => formatNumber(v, 4) || "–")
                    .join("  ")}
                </td>
                <td className="pr-3">
                  <select
                    className="select select-xs"
                    aria-label={`what ${c.name} is`}
                    value={now.role}
                    onChange={(event) =>
                      onChange({
                        ...columns,
                        [c.name]: { ...now, role: event.target.value as Role },
                      })
                    }
                    data-testid={`role-${c.name}`}
                  >
                    <option value="">not used</option>
                    <option value="output">compared with</option>
                    <option value="input">drives, straight between rows</option>
                    <option value="held">drives, held between rows</option>
                  </select>
                </td>
                <td>
                  <input
                    className="input input-xs mono w-56"
                    list="measured-variables"
                    aria-label={`variable of ${c.name}`}
                    value={now.variable}
                    disabled={now.role === ""}
                    onChange={(event) =>
                      onChange({ ...columns, [c.name]: { ...now, variable: event.target.value } })
                    }
                    data-testid={`variable-${c.name}`}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <VariableChips names={watchedOf(view)} />
      <datalist id="measured-variables">
        {watchedOf(view)
          .slice(0, 3000)
          .map((name) => (
            <option key={name} value={name} />
          ))}
      </datalist>
    </>
  );
}
