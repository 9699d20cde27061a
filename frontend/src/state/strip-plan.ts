import type { RunVariable, Schemas } from "../api/client";
import { suitedUnit } from "./suited-unit";

/** One strip: its curves by name, the units of both axes ("" as the model shows them). */
export type StripPlan = Schemas["StripPlan"];

/** Curves on one strip at most. */
export const MOST_CURVES = 8;

/** Strips as somebody kept them, with lists of names as an earlier form; null where it is neither. */
export function asPlans(kept: unknown): StripPlan[] | null {
  if (!Array.isArray(kept)) return null;
  return kept.map((item: string[] | StripPlan) => (Array.isArray(item) ? planOf(item) : item));
}

export function planOf(names: string[]): StripPlan {
  return { names, left: "", right: "", logarithmic: false, looks: {} };
}

/** What tells strips apart: no two have the same curves. */
export function keyOf(plan: StripPlan): string {
  return plan.names.join(" ");
}

/** The names of all curves, each once. */
export function namesOn(plans: StripPlan[] | null): string[] {
  return [...new Set((plans ?? []).flatMap((plan) => plan.names))];
}

/** Take a variable off its strip, or put it on the first strip of its unit, or on a new one. */
export function toggled(
  plans: StripPlan[],
  name: string,
  unitOf: (name: string) => string,
): StripPlan[] {
  if (plans.some((plan) => plan.names.includes(name))) return without(plans, name);
  const fitting = plans.findIndex(
    (plan) => plan.names.length < 4 && plan.names.every((n) => unitOf(n) === unitOf(name)),
  );
  return fitting < 0 ? [...plans, planOf([name])] : added(plans, name, fitting);
}

/** Strips without a variable; one that becomes empty goes. */
export function without(plans: StripPlan[], name: string): StripPlan[] {
  return plans
    .map((plan) => ({ ...plan, names: plan.names.filter((n) => n !== name) }))
    .filter((plan) => plan.names.length > 0);
}

function added(plans: StripPlan[], name: string, at: number): StripPlan[] {
  return plans.map((plan, i) => (i === at ? { ...plan, names: [...plan.names, name] } : plan));
}

/**
 * Put a variable on a strip, taking it off the one where it was. Where the strip has no axis left for its unit, or
 * no room, it gets a strip of its own below.
 */
export function placed(
  plans: StripPlan[],
  name: string,
  target: StripPlan | null,
  unitOf: (name: string) => string,
): StripPlan[] {
  if (target?.names.includes(name)) return plans;
  const rest = without(plans, name);
  const at = target ? rest.findIndex((plan) => keyOf(plan) === keyOf(target)) : rest.length;
  if (at < 0 || at === rest.length) return [...rest, planOf([name])];
  const units = new Set([...rest[at]!.names, name].map(unitOf));
  if (units.size > 2 || rest[at]!.names.length >= MOST_CURVES)
    return [...rest.slice(0, at + 1), planOf([name]), ...rest.slice(at + 1)];
  return added(rest, name, at);
}

/** Move a variable one strip up or down; beyond the last one it gets its own. */
export function shifted(
  plans: StripPlan[],
  name: string,
  step: -1 | 1,
  unitOf: (name: string) => string,
): StripPlan[] {
  const at = plans.findIndex((plan) => plan.names.includes(name));
  if (at < 0) return plans;
  const alone = plans[at]!.names.length === 1;
  const next = plans[at + step];
  if (!next)
    return alone
      ? plans
      : step > 0
        ? placed(plans, name, null, unitOf)
        : [planOf([name]), ...without(plans, name)];
  return placed(plans, name, next, unitOf);
}

/** A unit in which an axis is shown. */
export interface ShownUnit {
  unit: string;
  factor: number;
  offset: number;
}

/** An axis of a strip: the unit in which its quantities are computed, and the one in which they are shown. */
export interface Axis extends ShownUnit {
  side: "left" | "right";
  declared: string;
}

/**
 * The axes of a strip: the unit of its first curve at the left, the first other one at the right. `unitsOf` knows
 * units that can be chosen, by declared unit; until it does, an axis is shown as its first curve is. Where nobody
 * says in which unit, it has the prefix that suits the largest value; `sizeOf` tells that of a variable.
 */
export function axesOf(
  plan: StripPlan,
  variables: Map<string, RunVariable>,
  unitsOf: (declared: string) => ShownUnit[] | undefined,
  sizeOf: (name: string) => number = () => 0,
): Axis[] {
  const axes: Axis[] = [];
  const largest = (strip: StripPlan, unit: string) =>
    Math.max(...strip.names.filter((n) => variables.get(n)?.unit === unit).map(sizeOf));
  for (const name of plan.names) {
    const variable = variables.get(name);
    if (!variable || axes.length === 2 || axes.some((axis) => axis.declared === variable.unit))
      continue;
    const side = axes.length === 0 ? "left" : "right";
    const chosen = plan[side]
      ? unitsOf(variable.unit)?.find((u) => u.unit === plan[side])
      : undefined;
    axes.push({
      side,
      declared: variable.unit,
      unit: variable.shown_unit,
      factor: variable.factor,
      offset: variable.offset,
      ...(plan[side] || variable.shown_unit !== variable.unit
        ? chosen
        : suitedUnit(largest(plan, variable.unit), variable.unit)),
    });
  }
  return axes;
}
