import { describe, expect, it } from "vitest";

import type { Row } from "../api/client";
import { changedEditText, changedText, limitWords, sections } from "./row-text";

const row = (label: string, more: Partial<Row> = {}) =>
  ({
    label,
    shown_unit: "m",
    minimum: null,
    maximum: null,
    default: "",
    modified: false,
    unit: "m",
    tab: "",
    section: "",
    enabled: true,
    ...more,
  }) as Row;

describe("rows of the ledger", () => {
  it("puts rows under their headings and leaves out what is not enabled", () => {
    const rows = [
      row("a", { section: "Losses" }),
      row("b"),
      row("c", { enabled: false }),
      row("d", { section: "Losses" }),
      row("e", { tab: "More", section: "Heat" }),
    ];
    expect(sections(rows).map((s) => [s.title, s.rows.map((r) => r.label)])).toEqual([
      ["", ["b"]],
      ["Losses", ["a", "d"]],
      ["More: Heat", ["e"]],
    ]);
  });
  it("shows a change in the unit of the row, in which it is edited too", () => {
    const kelvin = { unit: "K", shown_unit: "degC", value: 310, shown: 36.85 };
    const changed = row("T", { ...kelvin, base: row("T", { value: 300, shown: 26.85 }) });
    expect(changedText(changed, "310")).toBe("36.85");
    expect(changedEditText(changed, "310")).toBe("36.85");
    expect(changedEditText(changed, "2*A")).toBe("2*A");
  });
  it("says limits with their unit", () => {
    expect(limitWords(row("a", { minimum: 0 }))).toBe("at least 0\u2009m");
    expect(limitWords(row("a", { minimum: 0, maximum: 2 }))).toBe("from 0\u2009m to 2\u2009m");
    expect(limitWords(row("a"))).toBe("");
  });
});
