import { Plus } from "lucide-react";
import type { ReactNode } from "react";

export type Chosen = number | "new";

export interface SideListEntry {
  id: number;
  name: string;
  title: string;
  /** The second line: state, age. */
  words: string;
}

/** What was made so far, newest first, beside the page of what is chosen, with a way to a new one at the top. */
export function SideList(props: SideGroupProps & { label: string; children?: ReactNode }) {
  const { label, children, ...group } = props;
  return (
    <nav className="w-56 shrink-0 overflow-y-auto border-r border-base-300 py-2" aria-label={label}>
      <SideGroup {...group} />
      {children}
    </nav>
  );
}

interface SideGroupProps {
  /** One of the entries in a word: "unit". Test ids begin with it. */
  noun: string;
  entries: SideListEntry[];
  shown: Chosen | null;
  onChoose: (chosen: Chosen) => void;
  /** What the way to a new one is called, where it is not made here. */
  begin?: string;
}

/** One kind of entries in such a list. */
export function SideGroup({ noun, entries, shown, onChoose, begin }: SideGroupProps) {
  return (
    <>
      <button
        type="button"
        className={`flex w-full items-center gap-1 px-3 py-1 text-left hover:bg-base-200 ${shown === "new" ? "font-medium" : ""}`}
        onClick={() => onChoose("new")}
        data-testid={`new-${noun.replace(" ", "-")}`}
      >
        <Plus size={13} /> {begin ?? `New ${noun}`}
      </button>
      {entries.map((entry) => (
        <button
          key={entry.id}
          type="button"
          className={`block w-full px-3 py-1 text-left hover:bg-base-200 ${shown === entry.id ? "bg-base-200" : ""}`}
          onClick={() => onChoose(entry.id)}
          data-testid={`${noun.replace(" ", "-")}-${entry.id}`}
        >
          <span className="block truncate" title={entry.title}>
            {entry.name}
          </span>
          <span className="muted text-[12px]">{entry.words}</span>
        </button>
      ))}
    </>
  );
}
