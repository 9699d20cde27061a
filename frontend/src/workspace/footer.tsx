import { MOST_EVENTS, withoutTicks } from "../state/ticks";
import { useTime } from "../state/time";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { ModelView, RunDetail } from "../api/client";
import { keys, type Stepping } from "../api/queries";
import { Popover } from "../ui/popover";
import { counted, formatTime } from "../ui/format";
import { partOf } from "../sheet/selection";
import { usePlace } from "../state/place";
import { useSelection } from "../state/selection";
import { useWaiting } from "../state/sent-again";

/** Remarks of a run that are listed at most. */
const MOST_REMARKS = 50;

/** What was done last, and what the current run has to say. */
export function Footer({ view, current }: { view: ModelView; current: RunDetail | undefined }) {
  const select = useSelection((s) => s.select);
  const setView = usePlace((s) => s.setView);
  const waiting = useWaiting((s) => s.waiting);
  const seconds = (current?.statistics as { seconds?: { integration?: number } } | undefined)
    ?.seconds?.integration;
  const place = current?.state === "failed" ? partOf(current.place) : "";
  return (
    <footer className="rule-t muted flex h-6 items-center gap-4 bg-base-100 px-3 text-[12px]">
      <span data-testid="last-edit" className="max-w-96 truncate">
        Last edit: {view.summary}
      </span>
      {waiting && (
        <span role="status" className="text-base-content" data-testid="footer-waiting">
          The server does not answer; your edit is sent again.
        </span>
      )}
      {current?.state === "failed" && (
        <span
          role="alert"
          className="min-w-0 truncate text-error"
          title={current.reason}
          data-testid="footer-failure"
        >
          ✕ {current.reason}
        </span>
      )}
      {place && view.sheet.components.some((c) => c.name === place) && (
        <button
          type="button"
          className="link shrink-0"
          onClick={() => (setView("sheet"), select(place))}
          data-testid="failure-place"
        >
          Show {place}
        </button>
      )}
      {current && current.messages.length > 0 && <Remarks messages={current.messages} />}
      {current?.state === "running" && <Underway key={current.id} run={current} />}
      {current && current.state === "done" && (
        <span className="ml-auto shrink-0" data-testid="run-summary">
          {counted(current.points, "point")}, {eventWords(current.events)}
          {seconds !== undefined &&
            `, computed in ${seconds < 1 ? `${Math.round(seconds * 1000)}\u2009ms` : formatTime(Number(seconds.toPrecision(3)))}`}
        </span>
      )}
    </footer>
  );
}

/** How many events there were, how many of them only clocks, and whether all the others are marked. */
function eventWords(all: RunDetail["events"]): string {
  const { events, ticks } = withoutTicks(all);
  const marked = events.length > MOST_EVENTS ? `, the first ${MOST_EVENTS} marked` : "";
  return `${counted(events.length, "event")}${ticks ? ` and ${counted(ticks, "clock tick")}` : ""}${marked}`;
}

/** What a run has to say beside its curves: warnings, and changes that were left out. */
function Remarks({ messages }: { messages: string[] }) {
  return (
    <Popover
      label={
        <>
          <span className="text-warning" aria-hidden="true">
            ▲
          </span>{" "}
          {messages.length} {messages.length === 1 ? "remark" : "remarks"}
        </>
      }
      title="Messages of the run"
      className="shrink-0 hover:underline"
      testid="remarks"
    >
      {(close) => (
        <>
          <ul className="max-h-72 max-w-xl list-disc overflow-y-auto pl-4">
            {messages.slice(0, MOST_REMARKS).map((text, i) => (
              <li key={i}>{text}</li>
            ))}
          </ul>
          <p className="pt-2">
            {messages.length > MOST_REMARKS && (
              <span className="muted">
                The first {MOST_REMARKS} of {messages.length}.{" "}
              </span>
            )}
            <button type="button" className="btn btn-xs font-normal" onClick={close}>
              Close
            </button>
          </p>
        </>
      )}
    </Popover>
  );
}

/** How far a run is, how long it will take at this pace, how small its steps are. */
function Underway({ run }: { run: RunDetail }) {
  const [begun] = useState(() => ({ at: Date.now(), share: run.progress }));
  const pace = useQuery<Stepping | null>({
    queryKey: keys.stepping(run.id),
    queryFn: () => null,
    enabled: false,
  }).data;
  const [now, setNow] = useState(begun.at);
  if (pace && pace.at > now) setNow(pace.at);
  const done = run.progress - begun.share;
  const left = done > 0.005 ? ((now - begun.at) / 1000 / done) * (1 - run.progress) : null;
  return (
    <span className="ml-auto flex shrink-0 items-center gap-3" data-testid="run-underway">
      <progress
        className="progress h-1.5 w-40"
        value={run.progress}
        max={1}
        aria-label={`Run ${run.number}`}
      />
      <span>{`${Math.round(run.progress * 100)}\u2009%`}</span>
      <span>at {formatTime(run.time_reached ?? 0, useTime.getState().unit)}</span>
      {pace && (
        <span data-testid="run-step">step {formatTime(Number(pace.step.toPrecision(3)))}</span>
      )}
      {pace && <span>{pace.events} events</span>}
      {left !== null && (
        <span data-testid="run-left">
          about{" "}
          {left < 1
            ? "1\u2009s"
            : left < 90
              ? `${Math.round(left)}\u2009s`
              : `${Math.round(left / 60)}\u2009min`}{" "}
          left
        </span>
      )}
    </span>
  );
}
