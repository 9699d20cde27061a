import { useLayoutEffect, useRef, useState, type ReactNode } from "react";
import { createPortal } from "react-dom";
import { Backdrop } from "./backdrop";

interface Props {
  label: ReactNode;
  /** What the button is called where its label is a picture. */
  words?: string;
  title: string;
  className?: string;
  testid: string;
  disabled?: boolean;
  children: (close: () => void) => ReactNode;
}

/** A button with a small panel that floats beside it, above everything and within the window. */
export function Popover({
  label,
  words,
  title,
  className = "btn btn-ghost btn-xs shrink-0",
  testid,
  disabled,
  children,
}: Props) {
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const panel = useRef<HTMLDivElement>(null);
  // The panel takes the focus when it opens and gives it back when it closes.
  useLayoutEffect(() => {
    const from = button.current;
    return open ? () => from?.focus() : undefined;
  }, [open]);
  const close = () => setOpen(false);
  useLayoutEffect(() => {
    if (!open || !panel.current || !button.current) return;
    const [at, own] = [
      button.current.getBoundingClientRect(),
      panel.current.getBoundingClientRect(),
    ];
    panel.current.style.left = `${Math.max(4, Math.min(at.left, window.innerWidth - own.width - 4))}px`;
    panel.current.style.top = `${at.bottom + own.height + 4 > window.innerHeight ? Math.max(4, at.top - own.height - 2) : at.bottom + 2}px`;
    panel.current.style.visibility = "visible";
    panel.current.querySelector<HTMLElement>("input, select, button")?.focus();
  }, [open]);
  return (
    <>
      <button
        ref={button}
        type="button"
        className={className}
        onClick={() => setOpen(!open)}
        aria-expanded={open}
        aria-label={words}
        title={title}
        disabled={disabled}
        data-testid={testid}
      >
        {label}
      </button>
      {open &&
        createPortal(
          <div
            onKeyDown={(event) => event.key === "Escape" && (event.stopPropagation(), close())}
            data-own-keys
          >
            <Backdrop onClose={close} />
            <div
              ref={panel}
              className="fixed z-30 border border-base-300 bg-base-100 p-3 text-[13px] shadow-md"
              style={{ visibility: "hidden" }}
              role="dialog"
              aria-label={title}
              data-testid={`${testid}-panel`}
            >
              {children(close)}
            </div>
          </div>,
          document.body,
        )}
    </>
  );
}
