import { expect, test } from "vitest";

import { bytes } from "./bytes";

test.each([
  [0, "0 B"],
  [999, "999 B"],
  [1000, "1.00 kB"],
  [999_499, "999 kB"],
  [999_600, "1.00 MB"],
  [12_345_678, "12.3 MB"],
  [4.2e15, "4200 TB"],
])("%d bytes are %s", (count, words) => {
  expect(bytes(count).replace("\u2009", " ")).toBe(words);
});
