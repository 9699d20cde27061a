import { expect, test } from "vitest";

import { shareWords } from "./claim-share";

const claim = (hold: number, fail: number, open = 0) => ({ text: "x < 1", hold, fail, open });

test("a share is told of those that were judged, and never rounded to all or none", () => {
  expect(shareWords(claim(485, 15))).toBe("holds in 97 % of 500");
  expect(shareWords(claim(500, 0))).toBe("holds in all 500");
  expect(shareWords(claim(9999, 1))).toBe("holds in 99.9 % of 10000");
  expect(shareWords(claim(0, 3, 2))).toBe("fails in all 3, 2 not judged");
  expect(shareWords(claim(0, 0))).toBe("not judged yet");
});
