/** What lies under an open panel over the whole screen: a click on it closes the panel. */
export function Backdrop({ onClose, label = "Close" }: { onClose: () => void; label?: string }) {
  return (
    <button
      type="button"
      className="fixed inset-0 z-20 cursor-default"
      onClick={onClose}
      aria-label={label}
      tabIndex={-1}
    />
  );
}
