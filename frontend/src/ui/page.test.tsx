import { act, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { expect, it, vi } from "vitest";

import { page } from "./page";

function opened(Page: () => React.ReactNode) {
  const place = document.createElement("div");
  act(() => {
    createRoot(place).render(<Suspense fallback="waiting">{<Page />}</Suspense>);
  });
  return place;
}

it("shows a page that was fetched before at once, another one when it arrives", async () => {
  const made = () => page(() => Promise.resolve({ default: () => <p>the page</p> }));
  const fetched = made();
  await fetched.fetch();
  expect(opened(fetched.Page as () => React.ReactNode).textContent).toBe("the page");

  const other = opened(made().Page as () => React.ReactNode);
  expect(other.textContent).toBe("waiting");
  await vi.waitFor(() => expect(other.textContent).toBe("the page"));
});
