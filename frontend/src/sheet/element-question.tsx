import { useState } from "react";

import { QuestionForm } from "./question-form";

/** Which element of an array of ports a wire is to end in. */
export interface Question {
  port: string;
  size: string;
  used: number[];
  answer: (element: number) => void;
}

export function ElementQuestion({
  question,
  onClose,
}: {
  question: Question;
  onClose: () => void;
}) {
  let free = 1;
  while (question.used.includes(free)) free += 1;
  const [typed, setTyped] = useState(String(free));
  const number = Number(typed);
  const most = Number(question.size);
  const good = Number.isInteger(number) && number >= 1 && (Number.isNaN(most) || number <= most);
  return (
    <QuestionForm
      label="Which element"
      testid="element-question"
      onAnswer={() => {
        if (!good) return;
        question.answer(number);
        onClose();
      }}
      onClose={onClose}
    >
      <label htmlFor="element-number">
        {question.port} has {question.size} elements. Which one?
      </label>
      <div className="flex gap-2">
        <input
          id="element-number"
          autoFocus
          className="input input-sm mono w-20"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          data-testid="element-number"
        />
        <button type="submit" className="btn btn-sm btn-primary" disabled={!good}>
          Connect
        </button>
        <button type="button" className="btn btn-sm" onClick={onClose}>
          Cancel
        </button>
      </div>
      {!good && (
        <p className="text-error">
          A whole number{Number.isNaN(most) ? " from 1" : ` from 1 to ${most}`} is needed.
        </p>
      )}
    </QuestionForm>
  );
}
