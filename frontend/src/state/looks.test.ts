import { expect, it } from "vitest";

import type { ModelView, RunView } from "../api/client";
import { agesOf, looksOf, lookWords, readLook } from "./looks";

const view = { model: "P.Own", scenarios: [] } as unknown as ModelView;
const run = (id: number, scenario = "base", model = "P.Own") =>
  ({ id, scenario, model, colour: 0 }) as unknown as RunView;
const plan = (looks: Record<string, string> = {}) => ({ names: ["a", "b", "c"], looks });

it("colours variables where only one run is shown, and runs where there are several", () => {
  const alone = looksOf(view, [run(1)], plan());
  expect(["a", "b", "c"].map((name) => alone(run(1), name).slot)).toEqual([0, 1, 2]);
  expect(["a", "b", "c"].map((name) => alone(run(1), name).dash)).toEqual([0, 0, 0]);
  const both = looksOf(view, [run(1), run(2)], plan());
  expect(["a", "b", "c"].map((name) => both(run(2), name).slot)).toEqual([0, 0, 0]);
  expect(["a", "b", "c"].map((name) => both(run(2), name).dash)).toEqual([0, 1, 2]);
});

it("lets older runs of a scenario fade one by one, and runs of other models not at all", () => {
  const runs = [run(1), run(2), run(3), run(4, "stiff"), run(5, "base", "P.Other")];
  expect([...agesOf(runs).values()]).toEqual([2, 1, 0, 0, 0]);
  const shades = runs.map((r) => looksOf(view, runs, plan())(r, "a").shade);
  expect(shades[0]!).toBeLessThan(shades[1]!);
  expect(shades.slice(2)).toEqual([1, 1, 1]);
  const look = looksOf(view, runs, plan());
  expect(look(run(5, "base", "P.Other"), "a").slot).not.toBe(look(run(3), "a").slot);
});

it("draws a curve as somebody chose", () => {
  expect(readLook(lookWords({ slot: 4, dash: 2 }))).toEqual({ slot: 4, dash: 2 });
  expect(readLook("dash 3")).toEqual({ dash: 2 });
  expect(readLook(undefined)).toEqual({});
  const look = looksOf(view, [run(1), run(2)], plan({ b: "colour 5" }))(run(1), "b");
  expect([look.slot, look.dash]).toEqual([4, 1]);
});
