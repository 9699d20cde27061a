/** Says that a draft from before is shown, and offers to begin anew. */
export function RestoredDraft({ onForget }: { onForget: () => void }) {
  return (
    <p className="rule-b flex items-center gap-2 px-3 py-1 text-[12px]" role="status">
      <span>This is your unsaved draft.</span>
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        onClick={onForget}
        data-testid="draft-forget"
      >
        Start over
      </button>
    </p>
  );
}
