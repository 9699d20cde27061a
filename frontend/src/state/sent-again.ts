import { create } from "zustand";

import { asRefusal, Refusal } from "../api/client";

/** Whether something waits for a server that does not answer, to be sent again. */
export const useWaiting = create<{ waiting: boolean }>(() => ({ waiting: false }));

/** Milliseconds between two times that something is sent. */
const PAUSES = [300, 600, 1200, 2400, 4800];
/** The server is away, or a process of it ended. */
const LOST = [0, 502, 503, 504];

/** An id that nobody else gives; browsers make better ones only for pages that come safely. */
export function newId(): string {
  const part = () => Math.random().toString(36).slice(2, 12);
  return "randomUUID" in crypto ? crypto.randomUUID() : part() + part() + part();
}

/** What is answered at last to something that may be sent several times, as it has an id. */
export async function untilAnswered<T>(
  send: () => Promise<T>,
  wait = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms)),
): Promise<T> {
  try {
    for (const pause of PAUSES) {
      try {
        return await send();
      } catch (fault) {
        if (!LOST.includes(asRefusal(fault).status)) throw fault;
        useWaiting.setState({ waiting: true });
        await wait(pause);
      }
    }
    return await send();
  } catch (fault) {
    if (asRefusal(fault).status !== 0) throw fault;
    throw new Refusal(0, {
      message: "the server does not answer.",
      hint: "This edit may have been stored or not; when the server is back, the page shows which.",
    });
  } finally {
    useWaiting.setState({ waiting: false });
  }
}
