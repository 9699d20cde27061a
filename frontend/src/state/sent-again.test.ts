import { expect, test } from "vitest";

import { Refusal } from "../api/client";
import { newId, untilAnswered, useWaiting } from "./sent-again";

const refusal = (status: number) => new Refusal(status, { message: "no." });
const soon = () => Promise.resolve();

/** Answers in turn; numbers are refused with that status. */
function server(...answers: (number | string)[]) {
  let count = 0;
  const send = () => {
    const answer = answers[Math.min(count++, answers.length - 1)]!;
    return typeof answer === "number" ? Promise.reject(refusal(answer)) : Promise.resolve(answer);
  };
  return { send, count: () => count };
}

test("what is lost is sent again until it is answered", async () => {
  const { send, count } = server(0, 503, 0, "stored");
  const said: boolean[] = [];
  const wait = () => {
    said.push(useWaiting.getState().waiting);
    return soon();
  };
  expect(await untilAnswered(send, wait)).toBe("stored");
  expect(count()).toBe(4);
  expect([...said, useWaiting.getState().waiting]).toEqual([true, true, true, false]);
});

test("a refusal is an answer", async () => {
  for (const status of [409, 422, 500]) {
    const { send, count } = server(status, "too late");
    await expect(untilAnswered(send, soon)).rejects.toMatchObject({ status });
    expect(count()).toBe(1);
  }
});

test("a server that stays away is said to be away, and that nobody knows", async () => {
  const { send, count } = server(0);
  const hint = expect.stringContaining("may have been stored or not") as string;
  await expect(untilAnswered(send, soon)).rejects.toMatchObject({ status: 0, hint });
  expect(count()).toBe(6);
});

test("ids are told apart and fit", () => {
  const ids = new Set(Array.from({ length: 1000 }, newId));
  expect(ids.size).toBe(1000);
  expect(Math.max(...[...ids].map((id) => id.length))).toBeLessThanOrEqual(40);
});
