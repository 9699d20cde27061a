import type { ReactNode } from "react";

interface Props {
  label: string;
  testid: string;
  wide?: boolean;
  onAnswer: () => void;
  onClose: () => void;
  children: ReactNode;
}

/** A question about what was just done on the sheet, at its corner: Enter answers, Escape leaves it. */
export function QuestionForm({ label, testid, wide = false, onAnswer, onClose, children }: Props) {
  return (
    <form
      role="dialog"
      aria-label={label}
      className={`absolute top-12 left-2 z-20 flex ${wide ? "w-96" : "w-80"} flex-col gap-2 border border-base-300 bg-base-100 p-3 shadow-md`}
      onSubmit={(event) => {
        event.preventDefault();
        onAnswer();
      }}
      onKeyDown={(event) => {
        if (event.key === "Escape") onClose();
        event.stopPropagation();
      }}
      data-testid={testid}
    >
      {children}
    </form>
  );
}
