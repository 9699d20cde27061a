import { expect, it } from "vitest";

import type { Row } from "../api/client";
import { asText, curveOf, gathered, sizeWords, type Table } from "./tables";

const row = (name: string, value: number | string, type = "Real") =>
  ({
    name,
    label: name.split(".").at(-1),
    value,
    shown: typeof value === "number" ? value : null,
    expression: null,
    whole: null,
    type,
    description: "d",
    editable: true,
    modified: false,
  }) as unknown as Row;

it("gathers the elements of tables and leaves other rows in their places", () => {
  const items = gathered([
    row("p.a", 1),
    row("p.t[1,1]", 0),
    row("p.t[1,2]", 5),
    row("p.k", 2),
    row("p.t[2,1]", 1),
    row("p.t[2,2]", 7),
    row("p.v[1]", 3),
    row("p.v[2]", 4),
    row("p.s[1]", "add", "enumeration"),
  ]);
  expect(items.map((f) => ("elements" in f ? `${f.name} ${sizeWords(f)}` : f.name))).toEqual([
    "p.a",
    "p.t 2 × 2",
    "p.k",
    "p.v 2 values",
    "p.s[1]",
  ]);
  const table = items[1] as Table;
  expect(table.label).toBe("t");
  expect(asText(table)).toBe("0\t5\n1\t7");
  table.elements[1]![1]!.expression = "3*gain.k";
  expect(asText(table)).toBe("0\t5\n1\t3*gain.k");
  expect(asText({ ...table, whole: "linspace(0, 1, 5)" })).toBe("linspace(0, 1, 5)");
  expect(curveOf(table, 10, 10)).toBe("0.0,10.0 10.0,0.0");
  expect(curveOf(items[3] as Table, 10, 10)).toBe("");
});
