import { X } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import { ask, asRefusal, client, type ModelView, type Row } from "../api/client";
import { formatNumber, formatUnit, shortNumber } from "../ui/format";
import { namesOn } from "../state/strip-plan";
import { usePlace } from "../state/place";
import { useShownRuns } from "../state/shown-runs";
import { useStripPlans } from "../state/strips";

interface Props {
  view: ModelView;
  row: Row;
  /** The value now, in the declared unit. */
  value: number;
  /** Keeps the value that was let go. */
  onKeep: (text: string) => void;
  onClose: () => void;
}

/** A parameter as a slider: while it moves the model is run again and the curves follow; letting go keeps the value. */
export function ValueSlider({ view, row, value, onKeep, onClose }: Props) {
  const [low, setLow] = useState(() =>
    shortNumber(
      Math.max(row.minimum ?? -Infinity, value === 0 ? -1 : value * (value > 0 ? 0.5 : 1.5)),
    ),
  );
  const [high, setHigh] = useState(() =>
    shortNumber(
      Math.min(row.maximum ?? Infinity, value === 0 ? 1 : value * (value > 0 ? 1.5 : 0.5)),
    ),
  );
  const [moved, setMoved] = useState<number | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [rate, setRate] = useState<number | null>(null);
  const follow = useFollowing(view, row.name, setFault, setRate);
  const setLive = useShownRuns((s) => s.setLive);
  useEffect(() => () => setLive(null), [setLive]);
  const [from, to] = [Number(low), Number(high)];
  const good = Number.isFinite(from) && Number.isFinite(to) && to > from;
  const shown = moved ?? value;
  const keep = () => {
    if (moved === null) return;
    // Without a unit the shown one is meant.
    onKeep(row.unit === row.shown_unit ? shortNumber(moved) : `${shortNumber(moved)} ${row.unit}`);
    setMoved(null);
  };
  return (
    <div className="pt-0.5 pb-1" data-testid={`slider-${row.name}`}>
      <div className="flex items-center gap-1.5">
        <input
          className="input input-xs mono w-16"
          aria-label={`${row.label} slider from`}
          value={low}
          onChange={(event) => setLow(event.target.value)}
        />
        <input
          type="range"
          className="range range-xs min-w-0 flex-1"
          aria-label={`${row.label}, ${formatNumber(shown)} ${formatUnit(row.unit)}`}
          min={0}
          max={1000}
          step={1}
          disabled={!good}
          value={good ? Math.round((1000 * (shown - from)) / (to - from)) : 500}
          onChange={(event) => {
            const next = from + (Number(event.target.value) / 1000) * (to - from);
            setMoved(next);
            follow(next);
          }}
          onPointerUp={keep}
          onKeyUp={(event) =>
            (event.key.startsWith("Arrow") || event.key === "Home" || event.key === "End") && keep()
          }
          data-testid={`range-${row.name}`}
        />
        <input
          className="input input-xs mono w-16"
          aria-label={`${row.label} slider to`}
          value={high}
          onChange={(event) => setHigh(event.target.value)}
        />
        <button
          type="button"
          className="btn btn-ghost btn-xs px-0.5"
          onClick={onClose}
          aria-label="Close the slider"
        >
          <X size={12} />
        </button>
      </div>
      <p className="muted mono flex justify-between text-[11.5px]">
        <span data-testid={`slid-${row.name}`}>
          {formatNumber(shown)} {formatUnit(row.unit)}
        </span>
        {rate !== null && moved !== null && (
          <span data-testid="slider-rate">{rate.toFixed(0)} updates a second</span>
        )}
      </p>
      {fault && <p className="text-[12px] text-error">✕ {fault}</p>}
    </div>
  );
}

/** Runs the newest value only: while one run is under way, values in between are dropped. */
function useFollowing(
  view: ModelView,
  name: string,
  onFault: (sentence: string | null) => void,
  onRate: (rate: number) => void,
) {
  const wanted = useRef<number | null>(null);
  const busy = useRef(false);
  const times = useRef<number[]>([]);
  const go = async () => {
    if (busy.current) return;
    busy.current = true;
    while (wanted.current !== null) {
      const value = wanted.current;
      wanted.current = null;
      const { strips } = useStripPlans.getState();
      const { scenario } = usePlace.getState();
      const { setLive } = useShownRuns.getState();
      try {
        const body = { scenario, values: { [name]: value }, names: namesOn(strips) };
        const tried = await ask(
          client.POST("/api/projects/{project}/models/{model}/try", {
            params: { path: { project: view.project, model: view.model } },
            body,
          }),
        );
        setLive(tried.curves);
        onFault(null);
        const now = performance.now();
        times.current = [...times.current.filter((t) => now - t < 1000), now];
        onRate(times.current.length);
      } catch (fault) {
        onFault(asRefusal(fault).sentence);
      }
    }
    busy.current = false;
  };
  return (value: number) => {
    wanted.current = value;
    void go();
  };
}
