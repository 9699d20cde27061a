import { useMutation, useQueries, useQueryClient } from "@tanstack/react-query";

import { ask, asRefusal, client, type ModelView } from "../api/client";
import { keys } from "../api/queries";
import { formatNumber, formatUnit } from "../ui/format";
import { Part } from "../units/form";
import { Plot } from "./plot";
import type { AnalysisView, BootstrapResult, FitResult, ProfileResult } from "./types";
import { UNDER_WAY, useAnalyses } from "./use-analyses";

interface Props {
  view: ModelView;
  /** The analysis of the fit. */
  number: number;
  result: FitResult;
}

/** What else was asked of a fit, with its results where they are there. */
function useAskedOf(view: ModelView, number: number): AnalysisView[] {
  const own = (useAnalyses(view).data ?? []).filter((a) => a.asked.fit === number);
  const opened = useQueries({
    queries: own.map((a) => ({
      queryKey: [...keys.analysis(a.id), a.state],
      queryFn: () =>
        ask(client.GET("/api/analyses/{analysis}", { params: { path: { analysis: a.id } } })),
      enabled: a.state === "done",
      staleTime: Infinity,
    })),
  });
  return own.map((a, i) => opened[i]!.data ?? a);
}

/** Intervals that do not take the model for a straight line, or the noise for white: asked for here, and shown. */
export function FitIntervals({ view, number, result }: Props) {
  const cache = useQueryClient();
  const asked = useAskedOf(view, number);
  const order = useMutation({
    mutationFn: (what: { name: string; experiment: string } | "bootstrap") => {
      const params = { path: { analysis: number } };
      return what === "bootstrap"
        ? ask(client.POST("/api/analyses/{analysis}/bootstraps", { params, body: { count: 100 } }))
        : ask(client.POST("/api/analyses/{analysis}/profiles", { params, body: what }));
    },
    onSuccess: () => cache.invalidateQueries({ queryKey: keys.analyses(view.project, view.model) }),
  });
  const profiles = asked.filter((a) => a.kind === "profile");
  const bootstrap = asked.find((a) => a.kind === "bootstrap");
  const waiting = asked.some((a) => UNDER_WAY.includes(a.state));
  // The list has no results: one that is done is opened a moment later.
  const resampled = (bootstrap?.result as Partial<BootstrapResult> | undefined)?.parameters ?? [];
  const ends = (low: number | null, high: number | null) =>
    `${low === null ? "its bound" : formatNumber(low)} to ${high === null ? "its bound" : formatNumber(high)}`;
  return (
    <Part title="Intervals without the straight line">
      <p className="muted">
        The table above takes the model for a straight line about the values. A profile fits all
        others anew while one is held; resampling fits a hundred times to the same residuals, drawn
        anew in blocks, for noise that remembers.
      </p>
      <table className="w-fit" data-testid="fit-intervals">
        <tbody>
          {result.parameters.map((p) => {
            const own = profiles.find(
              (a) => a.asked.name === p.name && a.asked.experiment === p.experiment,
            );
            const profile = own?.state === "done" ? (own.result as unknown as ProfileResult) : null;
            const drawn = resampled.find((r) => r.name === p.name && r.experiment === p.experiment);
            const unit = formatUnit(p.unit);
            return (
              <tr key={`${p.name} ${p.experiment}`} data-testid={`interval-${p.name}`}>
                <td className="mono pr-4">
                  {p.name} {p.experiment && <span className="muted">{p.experiment}</span>}
                </td>
                <td className="mono pr-4">
                  {own ? (
                    profile?.values ? (
                      `profile ${ends(profile.low, profile.high)} ${unit}`
                    ) : own.state === "failed" ? (
                      <span className="text-error">✕ {own.reason}</span>
                    ) : (
                      <span className="muted">profile under way…</span>
                    )
                  ) : (
                    <button
                      type="button"
                      className="btn btn-xs"
                      disabled={order.isPending}
                      onClick={() => order.mutate({ name: p.name, experiment: p.experiment })}
                      data-testid={`profile-${p.name}`}
                    >
                      Profile
                    </button>
                  )}
                </td>
                <td className="mono">
                  {drawn && `resampled ${ends(drawn.low, drawn.high)} ${unit}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="flex items-center gap-3">
        {(!bootstrap || bootstrap.state === "failed") && (
          <button
            type="button"
            className="btn btn-sm"
            disabled={order.isPending}
            onClick={() => order.mutate("bootstrap")}
            data-testid="bootstrap"
          >
            Resample all of them
          </button>
        )}
        {bootstrap?.state === "failed" && <span className="text-error">✕ {bootstrap.reason}</span>}
        {waiting && (
          <span className="muted" role="status">
            Under way…
          </span>
        )}
        {order.error && <span className="text-error">✕ {asRefusal(order.error).sentence}</span>}
      </p>
      <div className="flex flex-wrap gap-4">
        {profiles
          .filter((a) => a.state === "done" && "values" in a.result)
          .map((a) => (
            <ProfilePlot
              key={a.id}
              profile={a.result as unknown as ProfileResult}
              result={result}
            />
          ))}
      </div>
    </Part>
  );
}

/** The least sum of squares over a parameter, as a multiple of the very least, with the level up to which values are inside. */
function ProfilePlot({ profile, result }: { profile: ProfileResult; result: FitResult }) {
  const own = result.parameters.find((p) => p.name === profile.name);
  const unit = formatUnit(own?.unit ?? "");
  const least = Math.min(...profile.costs);
  const [first, last] = [profile.values[0]!, profile.values.at(-1)!];
  return (
    <Plot
      label={`profile of ${profile.name}`}
      width={400}
      height={150}
      xWords={`${profile.name}${unit ? ` in ${unit}` : ""}`}
      yWords="squares"
      lines={[
        {
          name: "sum of squares, the least is 1",
          x: profile.values,
          y: profile.costs.map((c) => c / least),
          colour: "var(--run-0)",
        },
        {
          name: "95 %",
          x: [first, last],
          y: [profile.limit / least, profile.limit / least],
          colour: "var(--color-secondary)",
          dash: "5 4",
        },
      ]}
    />
  );
}
