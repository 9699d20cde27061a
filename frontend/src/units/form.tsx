import type { ReactNode } from "react";

/** A heading with what is chosen below it. */
export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="pb-1 font-semibold">{title}</legend>
      {children}
    </fieldset>
  );
}

interface ChoiceProps {
  kind: "radio" | "checkbox";
  name?: string;
  words: string;
  beside?: string;
  checked: boolean;
  onChange: () => void;
  testid: string;
}

/** One thing to choose, with a word beside it. */
export function Choice({ kind, name, words, beside, checked, onChange, testid }: ChoiceProps) {
  return (
    <label className="flex w-fit cursor-pointer items-center gap-2">
      <input
        type={kind}
        name={name}
        className={kind === "radio" ? "radio radio-xs" : "checkbox checkbox-xs"}
        checked={checked}
        onChange={onChange}
        data-testid={testid}
      />
      <span>{words}</span>
      {beside && <span className="muted text-[12px]">{beside}</span>}
    </label>
  );
}
