import { createRoot } from "react-dom/client";
import { act } from "react";
import { expect, it, vi } from "vitest";

import { Catch } from "./catch";

function Broken(): never {
  throw new Error("no symbol");
}

it("says that a view cannot be shown instead of leaving the page empty", async () => {
  const quiet = vi.spyOn(console, "error").mockImplementation(() => undefined);
  const place = document.createElement("div");
  await act(async () => {
    createRoot(place).render(
      <Catch>
        <Broken />
      </Catch>,
    );
    await Promise.resolve();
  });
  expect(place.textContent).toContain("This view cannot be shown: no symbol");
  quiet.mockRestore();
});
