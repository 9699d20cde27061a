import { useState } from "react";

interface Props {
  title: string;
  words: string;
  names: string[];
  chosen: string[];
  onChange: (chosen: string[]) => void;
  testid: string;
}

/** Several names of a model: typed with suggestions, listed below, taken off with a click. */
export function NamesField({ title, words, names, chosen, onChange, testid }: Props) {
  const [typed, setTyped] = useState("");
  const add = (name: string) => {
    if (!names.includes(name) || chosen.includes(name)) return;
    onChange([...chosen, name]);
    setTyped("");
  };
  return (
    <div className="flex flex-col gap-1">
      <p className="muted text-[12px]">{words}</p>
      <input
        className="input input-sm mono w-96"
        list={`${testid}-names`}
        placeholder="type a name, Enter adds it"
        aria-label={title}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          if (names.includes(event.target.value)) add(event.target.value);
        }}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          add(typed.trim());
        }}
        data-testid={testid}
      />
      <datalist id={`${testid}-names`}>
        {names.slice(0, 3000).map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <ul className="flex flex-wrap gap-1">
        {chosen.map((name) => (
          <li key={name} className="mono flex items-center gap-1 border border-base-300 px-1">
            {name}
            <button
              type="button"
              aria-label={`Take ${name} off`}
              onClick={() => onChange(chosen.filter((n) => n !== name))}
            >
              ✕
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
