import { expect, it } from "vitest";

import type { ModelView, Row } from "../api/client";
import { inScenario } from "./in-scenario";

const row = (name: string, value: number, shown = value) =>
  ({ name, label: name, value, shown, unit: "K", shown_unit: "degC", expression: null }) as Row;

it("puts the values of a scenario into rows and onto symbols, and keeps those of the base", () => {
  const view = {
    rows: [row("hall.T", 300, 26.85), row("k", 2)],
    sheet: {
      components: [
        { name: "hall", labels: { T: "26.85 °C", C: "5 J/K" }, numbers: { T: 300 } },
        { name: "wall", labels: {}, numbers: {} },
      ],
    },
  } as unknown as ModelView;
  const hall = { component: "hall", label: "T", name: "hall.T" };
  const seen = inScenario(view, [{ ...hall, value: 310, shown: 36.85, words: "36.85 °C" }]);
  expect(seen.rows[0]!.base!.shown).toBe(26.85);
  expect(seen.rows[0]).toMatchObject({ value: 310, shown: 36.85 });
  expect(seen.rows[1]).toBe(view.rows[1]);
  expect(seen.sheet.components[0]).toMatchObject({
    labels: { T: "36.85 °C", C: "5 J/K" },
    numbers: { T: 310 },
  });
  expect(seen.sheet.components[1]).toBe(view.sheet.components[1]);
  expect(inScenario(view, [])).toBe(view);
});
