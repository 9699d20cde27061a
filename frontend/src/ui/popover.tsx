import * as Radix from "@radix-ui/react-popover";
import { useState, type ReactNode } from "react";

import { PANEL } from "./panel";

interface Props {
  label: ReactNode;
  /** What the button is called where its label is a picture. */
  words?: string;
  title: string;
  className?: string;
  panelClass?: string;
  testid: string;
  /** The name of the panel for tests, where it is not that of the button with "-panel". */
  panelId?: string;
  disabled?: boolean;
  children: (close: () => void) => ReactNode;
}

/**
 * A button with a panel that floats beside it, above everything and within the window.
 *
 * The panel takes the focus and keeps it, closes with Escape or a click beside it, and gives the focus back.
 */
export function Popover({
  label,
  words,
  title,
  className = "btn btn-ghost btn-xs shrink-0",
  panelClass = "p-3",
  testid,
  panelId = `${testid}-panel`,
  disabled,
  children,
}: Props) {
  const [open, setOpen] = useState(false);
  return (
    <Radix.Root open={open} onOpenChange={setOpen} modal>
      <Radix.Trigger
        type="button"
        className={className}
        aria-label={words}
        title={title}
        disabled={disabled}
        data-testid={testid}
      >
        {label}
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          align="start"
          sideOffset={2}
          collisionPadding={4}
          className={`${PANEL} ${panelClass}`}
          aria-label={title}
          data-own-keys
          data-testid={panelId}
        >
          {children(() => setOpen(false))}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

/** A panel that floats at a place in the window, such as that of a click. */
export function PanelAt({
  at,
  label,
  className = "p-3",
  testid,
  onClose,
  children,
}: {
  at: { left: number; top: number };
  label: string;
  className?: string;
  testid: string;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <Radix.Root open onOpenChange={(open) => !open && onClose()} modal>
      <Radix.Anchor className="fixed" style={at} />
      <Radix.Portal>
        <Radix.Content
          align="start"
          collisionPadding={4}
          className={`${PANEL} ${className}`}
          aria-label={label}
          data-own-keys
          data-testid={testid}
        >
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
