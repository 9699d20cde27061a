import { useState } from "react";

interface Props {
  /** What is kept, as text. */
  value: string;
  label: string;
  testid: string;
  className: string;
  placeholder?: string;
  /** Why the last attempt was refused. */
  refusal: string | null;
  /** Sends a changed text; `done` is called when it was kept. */
  onKeep: (text: string, done: () => void) => void;
  /** Forget the refusal. */
  onAgain: () => void;
}

/** A text edited in place: Enter or leaving keeps it, Escape gives it up, a refusal stays until it is mended. */
export function DraftInput({ value, label, testid, className, placeholder, refusal, onKeep, onAgain }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const keep = () => {
    if (draft === null) return;
    if (draft.trim() === value) setDraft(null);
    else onKeep(draft, () => setDraft(null));
  };
  return (
    <>
      <input
        className={`${className} ${refusal ? "border-error" : ""}`}
        value={draft ?? value}
        aria-label={label}
        aria-invalid={refusal !== null}
        spellCheck={false}
        placeholder={placeholder}
        data-testid={testid}
        onFocus={(event) => {
          setDraft(draft ?? value);
          event.target.select();
        }}
        onChange={(event) => {
          setDraft(event.target.value);
          onAgain();
        }}
        onBlur={() => refusal === null && keep()}
        onKeyDown={(event) => {
          if (event.key === "Enter") keep();
          if (event.key === "Escape") {
            setDraft(null);
            onAgain();
          }
        }}
      />
      {refusal && (
        <span role="alert" className="mt-1 block text-[12px] font-normal text-error" data-testid={`${testid}-fault`}>
          ✕ {refusal}
        </span>
      )}
    </>
  );
}
