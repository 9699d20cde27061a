import type { ModelView } from "../api/client";
import { formatUnit } from "../ui/format";
import { Choice, Part } from "../units/form";
import type { Search } from "./search";

interface Props {
  view: ModelView;
  /** The variables that are compared. */
  outputs: string[];
  search: Search;
  onChange: (search: Search) => void;
}

/** How a fit searches: weights, outliers, starts, and where it ends. */
export function SearchFields({ view, outputs, search, onChange }: Props) {
  const change = (part: Partial<Search>) => onChange({ ...search, ...part });
  const field = (
    key: "starts" | "heldBack" | "mostRuns" | "seconds" | "change",
    label: string,
    placeholder = "",
  ) => (
    <input
      className="input input-xs mono w-16"
      aria-label={label}
      value={search[key]}
      placeholder={placeholder}
      onChange={(event) => change({ [key]: event.target.value })}
      data-testid={`search-${key}`}
    />
  );
  return (
    <Part title="Search">
      <Choice
        kind="checkbox"
        words="outliers count less"
        checked={search.robust}
        onChange={() => change({ robust: !search.robust })}
        testid="fit-robust"
      />
      <label className="flex items-center gap-2">
        begins at {field("starts", "places at which the search begins")} places
      </label>
      <label className="flex items-center gap-2">
        the last {field("heldBack", "share of the time that is held back")} % of the time are held
        back and only compared with
      </label>
      <p className="flex flex-wrap items-center gap-2">
        a search ends after {field("mostRuns", "most runs", "5000")} runs, after{" "}
        {field("seconds", "most seconds", "no")} s, or when the sum of squares changes by less than{" "}
        {field("change", "least change", "1e-8")} of itself
      </p>
      {outputs.length > 0 && (
        <table className="w-fit">
          <thead>
            <tr className="muted text-left text-[12px]">
              <th className="pr-4 font-normal">compared variable</th>
              <th className="font-normal">standard deviation of the measurement</th>
            </tr>
          </thead>
          <tbody>
            {outputs.map((name) => (
              <tr key={name}>
                <td className="mono pr-4">{name}</td>
                <td>
                  <input
                    className="input input-xs mono w-44"
                    aria-label={`standard deviation of ${name}`}
                    placeholder="as the residual says"
                    value={search.deviations[name] ?? ""}
                    onChange={(event) =>
                      change({ deviations: { ...search.deviations, [name]: event.target.value } })
                    }
                    data-testid={`deviation-${name}`}
                  />{" "}
                  <span className="muted">{errorUnitOf(view, name)}</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Part>
  );
}

/** The unit in which differences of a variable are shown: temperatures differ in kelvin. */
function errorUnitOf(view: ModelView, name: string): string {
  const row = view.rows.find((r) => r.name === name);
  if (!row) return "";
  return formatUnit(/^deg[CF]$/.test(row.shown_unit) ? row.unit : row.shown_unit);
}
