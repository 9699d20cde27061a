import { useState } from "react";

/** What was written and not kept yet; it survives leaving, a reload and a crash. */
export interface Draft<T> {
  value: T;
  /** Whether it was found from before, so that a person is told. */
  restored: boolean;
  change: (value: T) => void;
  /** Forget it: it was kept, or is given up. */
  forget: () => void;
}

/** A draft under a name, which begins with what is there already. */
export function useDraft<T>(name: string, begin: T): Draft<T> {
  const key = `movrel.draft.${name}`;
  const [earlier] = useState(() => read<T>(key));
  const [value, setValue] = useState<T>(earlier ?? begin);
  const [restored, setRestored] = useState(earlier !== null);
  return {
    value,
    restored,
    change: (next) => {
      setValue(next);
      if (JSON.stringify(next) === JSON.stringify(begin)) localStorage.removeItem(key);
      else localStorage.setItem(key, JSON.stringify(next));
    },
    forget: () => {
      localStorage.removeItem(key);
      setValue(begin);
      setRestored(false);
    },
  };
}

function read<T>(key: string): T | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "null") as T | null;
  } catch {
    localStorage.removeItem(key);
    return null;
  }
}
