/** What the server announces, as it stands in the stream. */
export type Hear = (text: string) => void;

const NAME = "movrel-events";
/** What is said where announcements may have been missed. */
const BREAK = JSON.stringify({ kind: "reconnected" });

/** Hear what the server announces, by one stream for all tabs of a browser: one tab has it and passes on what it
 * hears; when it is closed, another one takes over. Gives a function that ends it. */
export function listen(hear: Hear): () => void {
  if (!("locks" in navigator) || typeof BroadcastChannel === "undefined")
    return stream(hear, false);
  const channel = new BroadcastChannel(NAME);
  channel.onmessage = (message: MessageEvent<string>) => hear(message.data);
  const waiting = new AbortController();
  let end: (() => void) | null = null;
  let first = true;
  const all: Hear = (text) => {
    channel.postMessage(text);
    hear(text);
  };
  const turn = () =>
    new Promise<void>((resolve) => {
      if (waiting.signal.aborted) return resolve();
      const close = stream(all, !first);
      end = () => {
        close();
        resolve();
      };
    });
  const lock = { signal: waiting.signal };
  void navigator.locks
    .request(NAME, { ifAvailable: true }, (mine) => (mine ? turn() : undefined))
    .then(() => {
      if (end || waiting.signal.aborted) return;
      first = false; // another tab has it; what is announced while it hands over may be missed
      return navigator.locks.request(NAME, lock, turn);
    })
    .catch(() => undefined);
  return () => {
    waiting.abort();
    end?.();
    channel.close();
  };
}

/** A stream of this tab; after a break, or from the beginning where it takes over, anything may have changed. */
function stream(hear: Hear, takesOver: boolean): () => void {
  const source = new EventSource("/api/events");
  let missed = takesOver;
  source.addEventListener("ready", () => {
    if (missed) hear(BREAK);
    missed = true;
  });
  source.onmessage = (message: MessageEvent<string>) => hear(message.data);
  return () => source.close();
}
