import { X } from "lucide-react";
import { useId } from "react";

interface Props {
  /** What is chosen here, for those who cannot see it. */
  label: string;
  names: string[];
  choice: { name: string; words: string }[];
  onChange: (names: string[]) => void;
  testid: string;
}

/** Names that were chosen, each with a way to take it out, and a field that finds more. */
export function NameList({ label, names, choice, onChange, testid }: Props) {
  const list = useId();
  const words = new Map(choice.map((c) => [c.name, c.words]));
  const add = (field: HTMLInputElement) => {
    const name = field.value.trim();
    if (!words.has(name) || names.includes(name)) return;
    onChange([...names, name]);
    field.value = "";
  };
  return (
    <div className="flex flex-col gap-1 pl-6" data-testid={testid}>
      {names.map((name) => (
        <div key={name} className="flex max-w-xl items-center gap-2">
          <span className="mono">{name}</span>
          <span className="muted min-w-0 flex-1 truncate text-[12px]">{words.get(name)}</span>
          <button
            type="button"
            className="btn btn-ghost btn-xs px-1"
            aria-label={`Leave ${name} out`}
            onClick={() => onChange(names.filter((other) => other !== name))}
          >
            <X size={12} />
          </button>
        </div>
      ))}
      <input
        className="input input-sm mono w-80"
        aria-label={label}
        placeholder="name, then Enter"
        list={list}
        data-testid={`${testid}-add`}
        onInput={(event) => {
          // A name that was picked from the list is taken at once.
          if (!event.nativeEvent.inputType) add(event.currentTarget);
        }}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          add(event.currentTarget);
        }}
      />
      <datalist id={list}>
        {choice
          .filter((c) => !names.includes(c.name))
          .map((c) => (
            <option key={c.name} value={c.name}>
              {c.words}
            </option>
          ))}
      </datalist>
    </div>
  );
}
