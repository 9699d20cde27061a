import type { Signal } from "./use-rig";

/** All signals that lead from one unit to another. */
export interface Cable {
  key: string;
  from: string;
  to: string;
  signals: Signal[];
}

/** The signals of a rig by the units that they join, in the order in which they first appear. */
export function cablesOf(signals: Signal[]): Cable[] {
  const cables = new Map<string, Cable>();
  for (const signal of signals) {
    const key = `${signal.from_unit} → ${signal.to_unit}`;
    const cable = cables.get(key) ?? {
      key,
      from: signal.from_unit,
      to: signal.to_unit,
      signals: [],
    };
    cable.signals.push(signal);
    cables.set(key, cable);
  }
  return [...cables.values()];
}

/** The last word of a name: what a port is called in its unit. */
export function portName(name: string): string {
  return name.slice(name.lastIndexOf(".") + 1);
}

/** The surest proposal for each input, none twice. */
export function bestOf<T extends { target: string }>(proposals: T[]): T[] {
  const chosen = new Map<string, T>();
  for (const proposal of proposals)
    if (!chosen.has(proposal.target)) chosen.set(proposal.target, proposal);
  return [...chosen.values()];
}

/** A share as per cent with two digits. */
export function perCent(share: number): string {
  const shown = 100 * share;
  return `${shown === 0 ? "0" : Math.abs(shown) < 0.001 ? "< 0.001" : Number(shown.toPrecision(2))} %`;
}

/** Seconds from what somebody typed: a number with s, ms or us behind it. */
export function typedSeconds(text: string): number | null {
  const match = /^\s*([0-9.,eE+-]+)\s*(us|µs|ms|s|min)?\s*$/.exec(text);
  const value = match ? Number(match[1]!.replace(",", ".")) : NaN;
  const factor = { us: 1e-6, µs: 1e-6, ms: 1e-3, s: 1, min: 60 }[match?.[2] ?? "s"]!;
  return value > 0 ? Number((value * factor).toPrecision(12)) : null;
}
