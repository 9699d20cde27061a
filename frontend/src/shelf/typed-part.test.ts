import { expect, it } from "vitest";

import { typedPart, valueWords } from "./typed-part";

it.each([
  ["resistor", "resistor", {}],
  ["resistor 10k", "resistor", { "": "10k" }],
  ["voltage source -50 mV", "voltage source", { "": "-50 mV" }],
  ["gain −2", "gain", { "": "-2" }],
  ["2 way valve", "2 way valve", {}],
  ["gain = 3*k_1", "gain", { "": "3*k_1" }],
  ["sum k_2=-1", "sum", { k_2: "-1" }],
  ["pulse width=300 ms, period=1 s", "pulse", { width: "300 ms", period: "1 s" }],
  ["transfer function a={L, R}", "transfer function", { a: "{L, R}" }],
  ["gain =", "gain", {}],
  ["= 3", "", {}],
])("reads %s", (typed, words, values) => {
  expect(typedPart(typed)).toEqual({ words, values });
});

it("says what a part begins with", () => {
  expect(valueWords({ "": "10k" }, "R")).toBe("R = 10k");
  expect(valueWords({ width: "1 s", height: "2" }, "width")).toBe("width = 1 s, height = 2");
});
