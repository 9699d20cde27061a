import { useRef, useState } from "react";

import { ask, asRefusal, client, type ModelView, type Schemas } from "../api/client";
import { formatNumber, withUnit } from "../ui/format";
import { usePlace } from "../state/place";

type Effects = Schemas["Effects"];

/** Runs that are under way at once. */
const AT_ONCE = 2;

/** For each claim the parameters that move its margin most, and which would turn the verdict with the smallest change. */
export function Sensitivities({ view }: { view: ModelView }) {
  const scenario = usePlace((s) => s.scenario);
  const [effects, setEffects] = useState<Effects[]>([]);
  const [total, setTotal] = useState<number | null>(null);
  const [claim, setClaim] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const asked = useRef(0);
  const path = { project: view.project, model: view.model };
  const go = async () => {
    asked.current += 1;
    const mine = asked.current;
    setEffects([]);
    setFault(null);
    try {
      const { parameters } = await ask(
        client.GET("/api/projects/{project}/models/{model}/sensitivities", {
          params: { path, query: { scenario } },
        }),
      );
      setTotal(parameters.length);
      const waiting = [...parameters];
      const work = async () => {
        for (
          let parameter = waiting.shift();
          parameter !== undefined && asked.current === mine;
          parameter = waiting.shift()
        ) {
          const effect = await ask(
            client.GET("/api/projects/{project}/models/{model}/sensitivities/effect", {
              params: { path, query: { scenario, parameter } },
            }),
          );
          if (asked.current === mine) setEffects((before) => [...before, effect]);
        }
      };
      await Promise.all(Array.from({ length: AT_ONCE }, work));
    } catch (refused) {
      if (asked.current === mine) setFault(asRefusal(refused).sentence);
    }
  };
  const going = total !== null && effects.length < total && fault === null;
  const shown = claim ?? view.claims[0] ?? null;
  const bars = effects
    .flatMap((f) =>
      f.effects
        .filter((e) => e.claim === shown && e.slope !== null && e.slope !== 0)
        .map((e) => ({ parameter: f.parameter, ...e, slope: e.slope! })),
    )
    .sort((a, b) => Math.abs(b.slope) - Math.abs(a.slope))
    .slice(0, 12);
  const most = Math.max(...bars.map((b) => Math.abs(b.slope)), 1e-300);
  const nearest = [...bars]
    .filter((b) => b.turns !== null && Number.isFinite(b.turns))
    .sort((a, b) => Math.abs(a.turns!) - Math.abs(b.turns!))[0];
  if (view.claims.length === 0) return null;
  return (
    <section className="pt-5" aria-label="Sensitivities" data-testid="sensitivities">
      <h2 className="flex items-center gap-2 pb-1 font-semibold">
        Sensitivities
        <button
          type="button"
          className="btn btn-xs font-normal"
          onClick={() => (going ? ((asked.current += 1), setTotal(null)) : void go())}
          disabled={view.problem !== null}
          data-testid="sensitivities-go"
        >
          {going
            ? `Stop (${effects.length} of ${total})`
            : `Vary each parameter of ${scenario} by 1\u2009%`}
        </button>
        {view.claims.length > 1 && effects.length > 0 && (
          <select
            className="select select-xs w-96 font-normal"
            value={shown ?? ""}
            aria-label="Claim"
            onChange={(event) => setClaim(event.target.value)}
            data-testid="sensitivities-claim"
          >
            {view.claims.map((text) => (
              <option key={text}>{text}</option>
            ))}
          </select>
        )}
      </h2>
      {fault && <p className="text-error">✕ {fault}</p>}
      {bars.map((bar) => (
        <div
          key={bar.parameter}
          className="grid grid-cols-[12rem_16rem_minmax(0,1fr)] items-center gap-2 py-0.5 text-[12px]"
          data-testid={`sensitivities-${bar.parameter}`}
        >
          <span className="truncate text-right" title={bar.parameter}>
            {bar.parameter}
          </span>
          <svg
            width="256"
            height="14"
            role="img"
            aria-label={`+1 % moves the margin by ${formatNumber(bar.slope / 100)}`}
          >
            <path d="M128 0V14" stroke="var(--color-base-300)" />
            <rect
              x={bar.slope > 0 ? 128 : 128 - (126 * -bar.slope) / most}
              y={2}
              width={(126 * Math.abs(bar.slope)) / most}
              height={10}
              fill={bar.slope > 0 ? "var(--run-2)" : "var(--run-1)"}
            />
          </svg>
          <span className="mono muted">
            {bar.slope > 0 ? "+" : "−"}
            {withUnit(Math.abs(bar.slope) / 100, bar.unit) ||
              formatNumber(Math.abs(bar.slope) / 100)}{" "}
            for +1 %
            {bar.turns !== null && Math.abs(bar.turns) < 10
              ? `, turns at ${bar.turns > 0 ? "+" : "−"}${formatNumber(Math.abs(100 * bar.turns), 3)} %`
              : ""}
          </span>
        </div>
      ))}
      {nearest && (
        <p className="pt-1" data-testid="nearest-turn">
          The smallest change that would turn the verdict: <b>{nearest.parameter}</b> by{" "}
          {nearest.turns! > 0 ? "+" : "−"}
          {formatNumber(Math.abs(100 * nearest.turns!), 3)} %, by the tangent at the present values.
        </p>
      )}
      {!going && total !== null && bars.length === 0 && !fault && (
        <p className="muted">No parameter moves this claim, or it cannot be judged.</p>
      )}
    </section>
  );
}
