import { lazy, useState, type ComponentType } from "react";

export interface Page<Props extends object = object> {
  /** Fetches the page, so that it shows without waiting. */
  fetch: () => Promise<void>;
  Page: ComponentType<Props>;
}

/**
 * A page or view in a file of its own. One that was fetched before shows at once: React keeps what stands in
 * for a page that is waited for on the screen for at least 0.3 s, which the page itself would then lose.
 */
export function page<Props extends object = object>(
  load: () => Promise<{ default: ComponentType<Props> }>,
): Page<Props> {
  let fetched: ComponentType<Props> | undefined;
  const loaded = async () => {
    const module = await load();
    fetched = module.default;
    return module;
  };
  const Waiting = lazy(loaded) as unknown as ComponentType<Props>;
  function Page(props: Props) {
    // Decided when the page opens, so that it is not made anew when its file arrives.
    const [Shown] = useState<ComponentType<Props>>(() => fetched ?? Waiting);
    return <Shown {...props} />;
  }
  return { fetch: () => loaded().then(() => undefined), Page };
}

/** Fetches pages once nothing else is to be done; one that cannot be fetched says so when it is opened. */
export function fetchWhenIdle(pages: { fetch: () => Promise<void> }[]): void {
  requestIdleCallback(
    () => {
      for (const each of pages) void each.fetch().catch(() => undefined);
    },
    { timeout: 3000 },
  );
}
