import { expect, test } from "vitest";

import { withoutTicks } from "./ticks";

test("the ticks of a clock are not events, what happens beside them is", () => {
  const ticks = Array.from({ length: 60 }, (_, k) => ({
    time: 0.05 * k,
    cause: "sample(0, 0.05)",
  }));
  // The tick at which something switched has another cause, and is missing among the others.
  ticks[30]!.cause = "sample(0, 0.05), w > w_up";
  const shift = { time: 1.234, cause: "level > 2" };
  const read = withoutTicks([...ticks, shift]);
  expect(read.ticks).toBe(59);
  expect(read.events.map((e) => e.cause)).toEqual(["sample(0, 0.05), w > w_up", "level > 2"]);
});

test("bounces come ever faster: they are no clock", () => {
  const bounces = Array.from({ length: 40 }, (_, k) => ({ time: 2 - 0.8 ** k, cause: "h < 0" }));
  expect(withoutTicks(bounces)).toEqual({ events: bounces, ticks: 0 });
});
