import type { ReactNode } from "react";
import { Link } from "react-router";

import { Wordmark } from "./wordmark";

/** A page for an address that leads nowhere, with the way back, and others where there are any. */
export function NowhereAtAll({
  message,
  hint = "",
  children,
}: {
  message: string;
  hint?: string;
  children?: ReactNode;
}) {
  return (
    <main className="mx-auto flex h-full max-w-xl flex-col justify-center gap-4 p-8">
      <Wordmark />
      <p className="text-[20px]" role="alert" data-testid="nowhere">
        {message.charAt(0).toUpperCase() + message.slice(1)}
      </p>
      {hint && <p className="muted">{hint}</p>}
      <p className="flex gap-4">
        {children}
        <Link to="/" className="link">
          To the start page
        </Link>
      </p>
    </main>
  );
}
