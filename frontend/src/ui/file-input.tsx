import type { RefObject } from "react";

interface Props {
  inputRef: RefObject<HTMLInputElement | null>;
  /** Endings of the files that can be chosen, such as ".mo". */
  accept: string;
  label: string;
  testid: string;
  /** Whether several files can be chosen at once; `onFile` is called for each. */
  several?: boolean;
  onFile: (file: File) => void;
}

/** The unseen field behind a button that asks for a file; the same file can be chosen again. */
export function FileInput({ inputRef, accept, label, testid, several, onFile }: Props) {
  return (
    <input
      ref={inputRef}
      type="file"
      multiple={several}
      accept={accept}
      className="hidden"
      aria-label={label}
      data-testid={testid}
      onChange={(event) => {
        for (const file of event.target.files ?? []) onFile(file);
        event.target.value = "";
      }}
    />
  );
}
