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
  /** The id of a list of suggestions. */
  list?: string;
  /** Whether a long text goes on in further lines. */
  wraps?: boolean;
}

/** A text edited in place: Enter or leaving keeps it, Escape gives it up, a refusal stays until it is mended. */
export function DraftInput({
  value,
  label,
  testid,
  className,
  placeholder,
  refusal,
  onKeep,
  onAgain,
  list,
  wraps = false,
}: Props) {
  const Field = wraps ? "textarea" : "input";
  const [draft, setDraft] = useState<string | null>(null);
  const keep = () => {
    if (draft === null) return;
    if (draft.trim() === value) setDraft(null);
    else onKeep(draft, () => setDraft(null));
  };
  return (
    <>
      <Field
        className={`${className} ${refusal ? "border-error" : ""}`}
        value={draft ?? value}
        aria-label={label}
        aria-invalid={refusal !== null}
        spellCheck={false}
        placeholder={placeholder}
        data-testid={testid}
        data-untouched={draft === null || undefined}
        onFocus={(event: React.FocusEvent<HTMLInputElement | HTMLTextAreaElement>) =>
          event.target.select()
        }
        onChange={(event: React.ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) => {
          setDraft(event.target.value);
          onAgain();
        }}
        onBlur={() => refusal === null && keep()}
        onKeyDown={(event: React.KeyboardEvent) => {
          if (event.key === "Enter") {
            event.preventDefault();
            keep();
          }
          if (event.key === "Escape") {
            setDraft(null);
            onAgain();
          }
        }}
        {...(wraps ? { rows: 1 } : {})}
        {...(list ? { list } : {})}
      />
      {refusal && (
        <span
          role="alert"
          className="mt-1 block text-[12px] font-normal text-error"
          data-testid={`${testid}-fault`}
        >
          ✕ {refusal}
        </span>
      )}
    </>
  );
}
