import type { ReactNode } from "react";

import { PanelAt } from "../ui/popover";

/** One thing that can be done; `keys` is how it is done with the keyboard. */
export interface Entry {
  words: string;
  keys?: string;
  /** Why it cannot be done now; then it is shown, but cannot be chosen. */
  without?: boolean;
  run: () => void;
}

interface Props {
  at: { left: number; top: number };
  title: string;
  /** In groups, with a line between. */
  groups: Entry[][];
  onClose: () => void;
}

/** What can be done with what was clicked with the right button. */
export function SheetMenu({ at, title, groups, onClose }: Props) {
  const move = (event: React.KeyboardEvent<HTMLDivElement>) => {
    if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
    event.preventDefault();
    const buttons = [...event.currentTarget.querySelectorAll<HTMLElement>("button:enabled")];
    const next = buttons.indexOf(document.activeElement as HTMLElement);
    const step = event.key === "ArrowDown" ? 1 : -1;
    buttons.at((next + step) % buttons.length)?.focus();
  };
  return (
    <PanelAt at={at} label={title} className="w-60 py-1" testid="sheet-menu" onClose={onClose}>
      <div role="menu" aria-label={title} tabIndex={-1} onKeyDown={move}>
        <p className="muted truncate px-3 pb-1 text-[12px]">{title}</p>
        {groups
          .filter((entries) => entries.length > 0)
          .map((entries, i) => (
            <Group key={i} first={i === 0}>
              {entries.map(({ words, keys, without, run }) => (
                <button
                  key={words}
                  type="button"
                  role="menuitem"
                  className="flex w-full items-baseline justify-between gap-3 px-3 py-0.5 text-left outline-none enabled:hover:bg-base-200 enabled:focus:bg-base-200 disabled:opacity-50"
                  disabled={without}
                  onClick={() => {
                    onClose();
                    run();
                  }}
                  data-testid={`menu-${words.toLowerCase().replaceAll(/[^a-z]+/g, "-")}`}
                >
                  {words}
                  {keys && <span className="muted text-[12px]">{keys}</span>}
                </button>
              ))}
            </Group>
          ))}
      </div>
    </PanelAt>
  );
}

function Group({ first, children }: { first: boolean; children: ReactNode }) {
  return <div className={first ? "" : "rule-t mt-1 pt-1"}>{children}</div>;
}
