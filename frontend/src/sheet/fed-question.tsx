import { QuestionForm } from "./question-form";

/** A wire to an input that has its signal from elsewhere already. */
export interface Fed {
  input: string;
  by: string;
  replace: () => void;
}

export function FedQuestion({ fed, onClose }: { fed: Fed; onClose: () => void }) {
  const replace = () => {
    fed.replace();
    onClose();
  };
  return (
    <QuestionForm
      label="The input has a signal already"
      testid="fed-question"
      onAnswer={replace}
      onClose={onClose}
    >
      <p>
        {fed.input} has its signal from {fed.by} already.
      </p>
      <div className="flex gap-2">
        <button
          type="submit"
          autoFocus
          className="btn btn-sm btn-primary"
          data-testid="fed-replace"
        >
          Replace that wire
        </button>
        <button type="button" className="btn btn-sm" onClick={onClose} data-testid="fed-leave">
          Leave it
        </button>
      </div>
    </QuestionForm>
  );
}
