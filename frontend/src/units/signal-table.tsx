import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { scaleOf } from "../charts/scale";
import { usePlace } from "../state/place";
import type { Edits } from "../state/use-edits";
import { formatNumber, formatTime } from "../ui/format";
import { Choice, Part } from "./form";
import { freeClassName } from "./part-draft";

type Preview = Schemas["TablePreview"];
type Between = "straight" | "hold" | "smooth";

const BETWEEN: Record<Between, string> = {
  straight: "joined by straight lines",
  hold: "held until the next row",
  smooth: "joined smoothly",
};

interface Props {
  view: ModelView;
  edits: Edits;
  file: File;
  preview: Preview;
  onTime: (time: string) => void;
  onPlace: () => { x: number; y: number };
}

/** A measured table and how it becomes a part: the columns that are given as signals, and what they do between the rows. */
export function SignalTable({ view, edits, file, preview, onTime, onPlace }: Props) {
  const setView = usePlace((s) => s.setView);
  const stem = file.name.replace(/\.[^.]*$/, "").replace(/\W+/g, "_");
  const [name, setName] = useState(() =>
    freeClassName(view, `${stem.slice(0, 1).toUpperCase()}${stem.slice(1)}` || "Table"),
  );
  const [off, setOff] = useState<Record<string, boolean>>({});
  const [units, setUnits] = useState<Record<string, string>>({});
  const [before, setBefore] = useState<Record<string, string>>({});
  const [between, setBetween] = useState<Between>("straight");
  const [cyclic, setCyclic] = useState(false);
  const chosen = preview.columns.filter((c) => !off[c.name]);
  const place = useMutation({
    mutationFn: async () => {
      const given = Object.entries(before).filter(([, text]) => text.trim() !== "");
      const choices = {
        name,
        columns: Object.fromEntries(chosen.map((c) => [c.name, c.name_in_part])),
        units: Object.fromEntries(chosen.map((c) => [c.name, units[c.name] ?? c.unit])),
        between,
        cyclic,
        before: Object.fromEntries(
          given.map(([column, text]) => [column, Number(text.replace(",", "."))]),
        ),
      };
      const { text } = await ask(
        client.POST("/api/projects/{project}/signal-tables/{name}", {
          params: {
            path: { project: view.project, name: file.name },
            query: { time: preview.time, choices: JSON.stringify(choices) },
          },
          body: file as never,
          bodySerializer: (body: unknown) => body as Blob,
          headers: { "Content-Type": "application/octet-stream" },
        }),
      );
      return edits.mutateAsync({ do: "component", text, replaces: "", ...onPlace() });
    },
    onSuccess: () => setView("sheet"),
  });
  return (
    <form
      className="flex max-w-4xl flex-col gap-3 p-4"
      data-testid="signal-table"
      onSubmit={(event) => {
        event.preventDefault();
        place.mutate();
      }}
    >
      <h2 className="font-semibold">{file.name}</h2>
      <p>
        {preview.rows} rows from {formatTime(preview.start)} to {formatTime(preview.stop)}; times
        are in{" "}
        <select
          className="select select-xs w-48"
          aria-label="Column of the time"
          value={preview.time}
          onChange={(event) => onTime(event.target.value)}
          data-testid="table-time"
        >
          {preview.times.map((column) => (
            <option key={column}>{column}</option>
          ))}
        </select>
      </p>
      {preview.notes.map((note) => (
        <p key={note} className="muted">
          {note}
        </p>
      ))}
      <table className="w-full">
        <thead>
          <tr className="muted rule-b text-left text-[12px]">
            <th className="font-normal">given</th>
            <th className="font-normal">column</th>
            <th className="font-normal">unit</th>
            <th className="font-normal">before the first row</th>
            <th className="font-normal">first values</th>
            <th className="font-normal">whole</th>
          </tr>
        </thead>
        <tbody>
          {preview.columns.map((c) => (
            <tr key={c.name} className="align-middle" data-testid={`column-${c.name}`}>
              <td>
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  aria-label={`give ${c.name}`}
                  checked={!off[c.name]}
                  onChange={() => setOff({ ...off, [c.name]: !off[c.name] })}
                />
              </td>
              <td className="mono pr-2">{c.name}</td>
              <td className="pr-2">
                <input
                  className="input input-xs mono w-20"
                  aria-label={`unit of ${c.name}`}
                  value={units[c.name] ?? c.unit}
                  onChange={(event) => setUnits({ ...units, [c.name]: event.target.value })}
                />
              </td>
              <td className="pr-2">
                <input
                  className="input input-xs mono w-24"
                  placeholder="first value"
                  aria-label={`${c.name} before the first row`}
                  value={before[c.name] ?? ""}
                  onChange={(event) => setBefore({ ...before, [c.name]: event.target.value })}
                />
              </td>
              <td className="mono muted pr-2 whitespace-nowrap">
                {c.first
                  .slice(0, 4)
                  .map((v) => formatNumber(v, 4) || "–")
                  .join("  ")}
              </td>
              <td>
                <Curve time={c.time} values={c.values} held={between === "hold"} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Part title="Between and beyond the rows">
        {(Object.keys(BETWEEN) as Between[]).map((way) => (
          <Choice
            key={way}
            kind="radio"
            name="between"
            words={BETWEEN[way]}
            checked={between === way}
            onChange={() => setBetween(way)}
            testid={`between-${way}`}
          />
        ))}
        <Choice
          kind="checkbox"
          words="begins again after the last row"
          beside="otherwise the last value is held"
          checked={cyclic}
          onChange={() => setCyclic(!cyclic)}
          testid="table-cyclic"
        />
      </Part>
      <p className="flex items-center gap-3">
        <label className="flex items-center gap-2">
          name of its class
          <input
            className="input input-sm mono w-48"
            value={name}
            onChange={(event) => setName(event.target.value)}
            data-testid="table-name"
          />
        </label>
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={place.isPending || chosen.length === 0}
          data-testid="table-place"
        >
          Put it on the sheet
        </button>
        {place.error && (
          <span role="alert" className="text-error">
            ✕ {asRefusal(place.error).sentence}
          </span>
        )}
      </p>
    </form>
  );
}

const [WIDTH, HEIGHT] = [180, 34];

function Curve({ time, values, held }: { time: number[]; values: number[]; held: boolean }) {
  const across = scaleOf(time, 1, WIDTH - 1);
  const up = scaleOf(values, HEIGHT - 2, 2);
  const points = time.flatMap((t, i) => {
    const here = `${across.at(t).toFixed(1)},${up.at(values[i]!).toFixed(1)}`;
    return held && i > 0
      ? [`${across.at(t).toFixed(1)},${up.at(values[i - 1]!).toFixed(1)}`, here]
      : [here];
  });
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
      <polyline points={points.join(" ")} fill="none" stroke="var(--run-0)" strokeWidth="1.3" />
    </svg>
  );
}
