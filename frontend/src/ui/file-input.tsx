import type { RefObject } from "react";

interface Props {
  inputRef: RefObject<HTMLInputElement | null>;
  /** Endings of the files that can be chosen, such as ".mo". */
  accept: string;
  label: string;
  testid: string;
  onFile: (file: File) => void;
}

/** The unseen field behind a button that asks for a file; the same file can be chosen again. */
export function FileInput({ inputRef, accept, label, testid, onFile }: Props) {
  return (
    <input
      ref={inputRef}
      type="file"
      accept={accept}
      className="hidden"
      aria-label={label}
      data-testid={testid}
      onChange={(event) => {
        const file = event.target.files?.[0];
        if (file) onFile(file);
        event.target.value = "";
      }}
    />
  );
}
