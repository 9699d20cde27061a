import { useCallback, useState } from "react";

/** How far outside of the window something counts as nearly seen. */
const NEAR = "300px";

/** Whether an element has come near to what is seen; what never does need not be drawn. */
export function useInView(): [boolean, (element: Element | null) => void] {
  const [seen, setSeen] = useState(false);
  const watch = useCallback((element: Element | null) => {
    if (!element) return undefined;
    const watcher = new IntersectionObserver(
      ([entry]) => {
        if (!entry!.isIntersecting) return;
        setSeen(true);
        watcher.disconnect();
      },
      { rootMargin: NEAR },
    );
    watcher.observe(element);
    return () => watcher.disconnect();
  }, []);
  return [seen, watch];
}
