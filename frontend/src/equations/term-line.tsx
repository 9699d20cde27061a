import type { Schemas } from "../api/client";
import { formatNumber, formatUnit } from "../ui/format";
import { Formula } from "../ui/formulae";

interface Props {
  row: Schemas["EquationRow"];
  /** What each term is worth; null where it has no number. */
  values: (number | null)[];
  /** Whether the largest comes first. */
  sorted: boolean;
}

/** What each term of an equation is worth, so that one sees which rules it. */
export function TermLine({ row, values, sorted }: Props) {
  const terms = row.terms.map((term, i) => ({ ...term, value: values[i] ?? null, place: i }));
  const size = (value: number | null) => Math.abs(value ?? 0);
  const largest = Math.max(...terms.map((t) => size(t.value)));
  const side = (left: boolean) => {
    const own = terms.filter((term) => term.left === left);
    return sorted ? own.toSorted((a, b) => size(b.value) - size(a.value)) : own;
  };
  const [left, right] = [side(true), side(false)];
  const shown = (term: (typeof terms)[number]) => (
    <span key={term.place} className="inline-flex items-baseline gap-1 pr-3 whitespace-nowrap">
      <span className="muted">
        <Formula latex={term.latex} />
      </span>
      <span
        className={`mono ${largest > 0 && size(term.value) === largest ? "font-semibold" : ""}`}
        data-testid={`term-${row.determines}-${term.place}`}
      >
        {term.value === null ? "–" : formatNumber(term.value)}
      </span>
    </span>
  );
  return (
    <p
      className="flex flex-wrap items-baseline pb-1 pl-5 text-[12px]"
      data-testid={`terms-${row.determines}`}
    >
      {left.map(shown)}
      <span className="muted pr-3">=</span>
      {right.length > 0 ? right.map(shown) : <span className="mono pr-3">0</span>}
      <span className="muted">{formatUnit(row.term_unit)}</span>
    </p>
  );
}
