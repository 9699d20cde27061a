import { useState } from "react";

import type { Schemas } from "../api/client";
import { Axes, type Frame } from "../charts/axes";
import { scaleOf } from "../charts/scale";
import { withIn } from "../ui/format";

const FRAME: Frame = { width: 760, height: 240, left: 70, right: 16, top: 22, bottom: 40 };

/** The curves of a run of a unit alone, one at a time. */
export default function TrialPicture({ trial }: { trial: Schemas["Trial"] }) {
  const curves = trial.curves ?? [];
  const [name, setName] = useState(
    () => curves.find((c) => new Set(c.values).size > 1)?.name ?? curves[0]?.name ?? "",
  );
  const curve = curves.find((c) => c.name === name) ?? curves[0];
  const time = trial.time ?? [];
  if (!curve) return <p className="muted">It ran, and has no variables that could be shown.</p>;
  const x = scaleOf(time, FRAME.left, FRAME.width - FRAME.right);
  const y = scaleOf(curve.values, FRAME.height - FRAME.bottom, FRAME.top);
  const line = curve.values
    .map((v, i) => `${x.at(time[i]!).toFixed(1)} ${y.at(v).toFixed(1)}`)
    .join("L");
  return (
    <div>
      <label className="flex items-center gap-2">
        <span className="muted">curve of</span>
        <select
          className="select select-sm mono w-72"
          value={curve.name}
          onChange={(event) => setName(event.target.value)}
          data-testid="trial-curve"
        >
          {curves.map((c) => (
            <option key={c.name}>{c.name}</option>
          ))}
        </select>
        <span className="muted">
          by {trial.interface === "me" ? "model exchange" : "co-simulation"}, with its own values
        </span>
      </label>
      <svg
        viewBox={`0 0 ${FRAME.width} ${FRAME.height}`}
        className="w-full max-w-3xl"
        role="img"
        aria-label={`${curve.name} over time`}
        data-testid="trial-picture"
      >
        <Axes
          frame={FRAME}
          x={x}
          y={y}
          xWords="time in s"
          yWords={withIn(curve.name, curve.unit)}
        />
        <path d={`M${line}`} fill="none" stroke="var(--run-0)" strokeWidth={1.5} />
      </svg>
      {(trial.messages ?? []).map((message, i) => (
        <p key={i} className="text-[12px]">
          Messages: {message}
        </p>
      ))}
    </div>
  );
}
