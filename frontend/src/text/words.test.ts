import { CompletionContext } from "@codemirror/autocomplete";
import { EditorState } from "@codemirror/state";
import { describe, expect, it } from "vitest";

import type { ModelView, Schemas } from "../api/client";
import { completionsFor, wordsOf } from "./words";

const view = {
  sheet: { components: [{ name: "basin", description: "Sump", class: "Movrel.Process.Basin" }] },
  rows: [
    { name: "basin.area", group: "set", type: "Real", unit: "m2", description: "Surface" },
    { name: "basin.inlet.q", group: "watch", type: "Real", unit: "m3/s", description: "Flow" },
  ],
} as unknown as ModelView;
const classes = [
  { class: "Movrel.Process.Orifice", description: "Opening", group: "Process" },
] as unknown as Schemas["ShelfEntry"][];

function offered(text: string): string[] {
  const state = EditorState.create({ doc: text });
  return (
    completionsFor(wordsOf(view, classes))(
      new CompletionContext(state, text.length, true),
    )?.options.map((o) => o.label) ?? []
  );
}

describe("completion", () => {
  it("offers parts, classes, functions and keywords", () => {
    expect(offered("ba")).toEqual(expect.arrayContaining(["basin", "Orifice", "der", "equation"]));
  });
  it("offers what belongs to a part after its dot", () => {
    expect(offered("x = basin.")).toEqual(["area", "inlet"]);
    expect(offered("x = basin.inlet.")).toEqual(["q"]);
    expect(offered("x = nobody.")).toEqual([]);
  });
});
