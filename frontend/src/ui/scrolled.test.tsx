import { act } from "react";
import { createRoot } from "react-dom/client";
import { expect, it, vi } from "vitest";

import { Scrolled } from "./scrolled";

it("takes the focus only while its content is wider than its place", () => {
  let resized = () => {};
  vi.stubGlobal(
    "ResizeObserver",
    class {
      constructor(callback: () => void) {
        resized = callback;
      }
      observe() {}
      disconnect() {}
    },
  );
  const width = vi.spyOn(Element.prototype, "scrollWidth", "get").mockReturnValue(0);
  const root = document.createElement("div");
  act(() => createRoot(root).render(<Scrolled label="Equation">x = 1</Scrolled>));
  const place = root.firstElementChild as HTMLElement;
  expect(place.tabIndex).toBe(-1);
  width.mockReturnValue(400);
  act(() => resized());
  expect(place.tabIndex).toBe(0);
  expect(place.getAttribute("aria-label")).toBe("Equation");
  width.mockRestore();
  vi.unstubAllGlobals();
});
