import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { createRoot } from "react-dom/client";
import { MemoryRouter } from "react-router";
import { expect, it, vi } from "vitest";

import type { ModelView } from "../api/client";
import { Shelf } from "./shelf";

// Before the client is made, which keeps the fetch that it finds.
const server = vi.hoisted(() => {
  const waiting: { answer?: (response: Response) => void } = {};
  vi.stubGlobal("fetch", () => new Promise<Response>((done) => (waiting.answer = done)));
  return waiting;
});

const ENTRIES = ["Basin", "Orifice"].map((name) => ({
  class: `Library.${name}`,
  name,
  group: "Process",
  description: "",
  synonyms: name === "Orifice" ? ["hole"] : [],
  icon: { extent: [-100, -100, 100, 100], graphics: [], ports: [] },
}));

it("inserts what was asked for before the shelf was there", async () => {
  vi.stubGlobal("IntersectionObserver", class { observe() {} unobserve() {} disconnect() {} }); // prettier-ignore
  const host = document.body.appendChild(document.createElement("div"));
  const inserted: string[] = [];
  const view = { project: 1, model: "Plant", revision: 1 } as ModelView;
  act(() =>
    createRoot(host).render(
      <QueryClientProvider client={new QueryClient()}>
        <MemoryRouter>
          <Shelf view={view} onInsert={(name) => inserted.push(name)} />
        </MemoryRouter>
      </QueryClientProvider>,
    ),
  );
  const input = host.querySelector("input")!;
  const type = (text: string) => {
    Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")!.set!.call(input, text);
    input.dispatchEvent(new Event("input", { bubbles: true }));
  };
  const enter = () =>
    input.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", bubbles: true }));
  for (const words of ["hole", "basin"]) {
    act(() => type(words));
    act(() => void enter());
  }
  expect(inserted).toEqual([]);
  expect(host.textContent).toContain("“hole”, “basin” will be inserted then");
  await act(async () => {
    server.answer!(Response.json({ entries: ENTRIES }));
    await new Promise((done) => setTimeout(done, 20));
  });
  expect(inserted).toEqual(["Library.Orifice", "Library.Basin"]);
});
