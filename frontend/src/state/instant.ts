import { useEffect, useState } from "react";

import { useTime } from "./time";

/** How often what follows the time cursor may change, in ms. */
const PERIOD = 50;

function instantNow(): number | null {
  const { hover, cursor } = useTime.getState();
  return hover ?? cursor;
}

/** The instant at which values are shown: under the pointer, else the time cursor. It changes at most every 50 ms, and the last change always arrives. */
export function useInstant(): number | null {
  const [instant, setInstant] = useState(instantNow);
  useEffect(() => {
    let timer = 0;
    let last = -Infinity;
    const follow = () => {
      timer = 0;
      last = performance.now();
      setInstant(instantNow());
    };
    const stop = useTime.subscribe((now, before) => {
      if ((now.hover === before.hover && now.cursor === before.cursor) || timer) return;
      timer = window.setTimeout(follow, Math.max(0, last + PERIOD - performance.now()));
    });
    follow();
    return () => {
      window.clearTimeout(timer);
      stop();
    };
  }, []);
  return instant;
}
