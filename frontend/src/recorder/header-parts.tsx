import { Pause as PauseIcon, Play as PlayIcon, Undo2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import { formatTime } from "../ui/format";
import { useTime } from "../state/time";

/** Where the time cursor stands, what happened near it, and a way to take it away. */
export function CursorTime({
  extent,
  events,
}: {
  extent: [number, number];
  events: { time: number; cause: string }[];
}) {
  const { cursor, hover, range, unit, setCursor } = useTime();
  const instant = hover ?? cursor;
  const [low, high] = range ?? extent;
  const near =
    instant === null
      ? undefined
      : events.find((e) => Math.abs(e.time - instant) < (high - low) / 250);
  return (
    <>
      <span
        className={`muted shrink-0 ${cursor === null ? "max-2xl:hidden" : ""}`}
        data-testid="cursor-time"
      >
        {cursor !== null
          ? `time cursor at ${formatTime(cursor, unit)}`
          : "click: time cursor; drag: zoom"}
      </span>
      {cursor !== null && (
        <button
          type="button"
          className="btn btn-ghost btn-xs -ml-2 px-1"
          onClick={() => setCursor(null)}
          aria-label="Clear the time cursor"
          title="Clear the time cursor (Esc)"
        >
          ×
        </button>
      )}
      {near && (
        <span
          className="max-w-28 shrink-0 truncate xl:max-w-32 2xl:max-w-80"
          title={near.cause}
          data-testid="near-event"
        >
          ▾ {formatTime(near.time, unit)}: {near.cause}
        </span>
      )}
    </>
  );
}

/** What is zoomed in on, with the ways back. */
export function Zoomed() {
  const { range, past, unit, setRange, zoomBack } = useTime();
  if (!range && past.length === 0) return null;
  return (
    <span className="flex shrink-0 items-center">
      <button
        type="button"
        className="btn btn-ghost btn-xs px-1"
        onClick={zoomBack}
        disabled={past.length === 0}
        aria-label="Back to the zoom before"
        title="Back to the zoom before (Backspace)"
        data-testid="zoom-back"
      >
        <Undo2 size={13} />
      </button>
      {range && (
        <button
          type="button"
          className="btn btn-ghost btn-xs"
          onClick={() => setRange(null)}
          data-testid="zoom-reset"
        >
          Show all ({formatTime(range[0], unit)} to {formatTime(range[1], unit)})
        </button>
      )}
    </span>
  );
}

/** Speeds of the replay: seconds of the run's whole span. */
const SPANS = [5, 10, 20, 60];

/** Plays the time cursor over what is shown; sheet and ledger move with it. */
export function Play({ extent: whole }: { extent: [number, number] }) {
  const range = useTime((s) => s.range);
  const extent = range ?? whole;
  const [on, setOn] = useState(false);
  const [span, setSpan] = useState(10);
  const latest = useRef({ extent, span });
  useEffect(() => {
    latest.current = { extent, span };
  }, [extent, span]);
  useEffect(() => {
    if (!on) return;
    let before = performance.now();
    const timer = window.setInterval(() => {
      const now = performance.now();
      const {
        extent: [low, high],
        span: seconds,
      } = latest.current;
      const { cursor, setCursor } = useTime.getState();
      const next =
        (cursor === null || cursor >= high ? low : cursor) +
        ((high - low) * (now - before)) / 1000 / seconds;
      before = now;
      setCursor(Math.min(next, high));
      if (next >= high) setOn(false);
    }, 60);
    return () => window.clearInterval(timer);
  }, [on]);
  return (
    <span className="flex shrink-0 items-center" role="group" aria-label="Replay">
      <button
        type="button"
        className="btn btn-ghost btn-xs px-1"
        onClick={() => setOn(!on)}
        aria-label={on ? "Pause the replay" : "Replay"}
        title="Replay: the sheet moves with the time cursor (P)"
        data-testid="play"
      >
        {on ? <PauseIcon size={13} /> : <PlayIcon size={13} />}
      </button>
      <select
        className="select select-xs w-16 border-0 px-1"
        value={span}
        aria-label="Seconds that the replay takes"
        title="How long the replay takes"
        onChange={(event) => setSpan(Number(event.target.value))}
      >
        {SPANS.map((s) => (
          <option key={s} value={s}>
            {s} s
          </option>
        ))}
      </select>
    </span>
  );
}

/** The marks A and B: set at the time cursor, with what lies between them. */
export function Marks() {
  const marks = useTime((s) => s.marks);
  const at = useTime((s) => s.cursor);
  const unit = useTime((s) => s.unit);
  const { setMark } = useTime.getState();
  return (
    <span className="flex shrink-0 items-center gap-1" role="group" aria-label="Marks">
      {(["a", "b"] as const).map((which) => (
        <button
          key={which}
          type="button"
          className="btn btn-ghost btn-xs px-1.5 font-normal"
          disabled={at === null && marks[which] === null}
          onClick={() =>
            setMark(
              which,
              marks[which] !== null && (at === null || at === marks[which]) ? null : at,
            )
          }
          title={`Mark ${which.toUpperCase()} at the time cursor (${which.toUpperCase()}); again takes it away`}
          data-testid={`mark-${which}`}
        >
          {which.toUpperCase()}
          {marks[which] !== null && <span className="mono">{formatTime(marks[which], unit)}</span>}
        </button>
      ))}
      {marks.a !== null && marks.b !== null && (
        <span className="mono muted" data-testid="marks-difference">
          Δ {formatTime(marks.b - marks.a, unit)}
        </span>
      )}
    </span>
  );
}
