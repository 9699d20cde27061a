import { Link } from "react-router";

import { Wordmark } from "./wordmark";

/** A page for an address that leads nowhere, with the way back. */
export function NowhereAtAll({ message, hint = "" }: { message: string; hint?: string }) {
  return (
    <main className="mx-auto flex h-full max-w-xl flex-col justify-center gap-4 p-8">
      <Wordmark />
      <p className="text-[20px]" role="alert" data-testid="nowhere">
        {message}
      </p>
      {hint && <p className="muted">{hint}</p>}
      <p>
        <Link to="/" className="link">
          To the start page
        </Link>
      </p>
    </main>
  );
}
