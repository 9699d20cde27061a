interface Event {
  time: number;
  cause: string;
}

/** Events that are marked at most. */
export const MOST_EVENTS = 500;
/** Occurrences from which on a cause that comes at even intervals is taken for a clock. */
const MANY = 20;
/** By how much of an interval a tick may be early or late. */
const EVEN = 1e-3;

/** The events of a run without the ticks of its clocks, which would hide them; and how many ticks these are. */
export function withoutTicks<T extends Event>(events: T[]): { events: T[]; ticks: number } {
  const times = new Map<string, number[]>();
  for (const { time, cause } of events) {
    const known = times.get(cause);
    if (known) known.push(time);
    else times.set(cause, [time]);
  }
  const clocks = new Set([...times].filter(([, at]) => isEven(at)).map(([cause]) => cause));
  const others = events.filter((event) => !clocks.has(event.cause));
  return { events: others, ticks: events.length - others.length };
}

/** Whether most of many instants follow each other after the same time; ticks that did more have another cause. */
function isEven(at: number[]): boolean {
  if (at.length < MANY) return false;
  const gaps = at.slice(1).map((t, i) => t - at[i]!);
  const usual = [...gaps].sort((a, b) => a - b)[Math.floor(gaps.length / 2)]!;
  return (
    usual > 0 &&
    gaps.every((gap) => {
      const periods = gap / usual;
      return periods > 0.5 && Math.abs(periods - Math.round(periods)) < EVEN * Math.max(1, periods);
    })
  );
}
