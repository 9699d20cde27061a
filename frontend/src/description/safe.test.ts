import { expect, test } from "vitest";

import { safe } from "./safe";

function shown(info: string): HTMLElement {
  const place = document.createElement("div");
  place.append(safe(info));
  return place;
}

test("plain text keeps its paragraphs and lines, and shows what looks like markup", () => {
  expect(shown("one\ntwo\n\n3 < 4 & 5").innerHTML).toBe("<p>one<br>two</p><p>3 &lt; 4 &amp; 5</p>");
});
