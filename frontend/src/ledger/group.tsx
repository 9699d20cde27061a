import type { ReactNode } from "react";

/** A titled group of rows in the ledger. */
export function Group({
  title,
  children,
  aside,
}: {
  title: string;
  children: ReactNode;
  aside?: ReactNode;
}) {
  return (
    <section className="rule-b py-1.5" aria-label={title}>
      <h3 className="muted flex items-baseline justify-between px-3 pb-1 text-[12px] font-semibold">
        {title}
        <span className="font-normal">{aside}</span>
      </h3>
      {children}
    </section>
  );
}
