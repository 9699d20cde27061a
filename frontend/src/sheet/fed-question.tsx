/** A wire to an input that has its signal from elsewhere already. */
export interface Fed {
  input: string;
  by: string;
  replace: () => void;
}

export function FedQuestion({ fed, onClose }: { fed: Fed; onClose: () => void }) {
  return (
    <form
      role="dialog"
      aria-label="The input has a signal already"
      className="absolute top-12 left-2 z-20 w-80 border border-base-300 bg-base-100 p-3 shadow-md"
      onSubmit={(event) => {
        event.preventDefault();
        fed.replace();
        onClose();
      }}
      onKeyDown={(event) => event.key === "Escape" && onClose()}
      data-testid="fed-question"
    >
      <p>
        {fed.input} has its signal from {fed.by} already.
      </p>
      <div className="flex gap-2 pt-2">
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
    </form>
  );
}
