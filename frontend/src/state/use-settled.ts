import { useEffect, useState } from "react";

/** A value that somebody types, once it has stood still for so many milliseconds. */
export function useSettled<T>(value: T, pause: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), pause);
    return () => window.clearTimeout(timer);
  }, [value, pause]);
  return settled;
}
