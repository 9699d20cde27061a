/** The mark: a decaying oscillation cut by a vertical cursor. */
export function Mark({ size = 20 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true">
      <path
        d="M2 16C4.5 3 7.5 3 9.6 16S13.4 26 15.5 16S18.6 9 20.4 16S23.4 20 25 16S27.6 14 30 16"
        fill="none"
        stroke="currentColor"
        strokeWidth="2.2"
        strokeLinecap="round"
      />
      <path d="M15.5 3V29" stroke="var(--color-primary)" strokeWidth="2.2" />
    </svg>
  );
}

export function Wordmark() {
  return (
    <span className="inline-flex items-center gap-1.5 align-middle text-[15px] leading-none font-semibold tracking-tight">
      <Mark />
      movrel
    </span>
  );
}
