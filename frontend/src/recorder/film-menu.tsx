import { Clapperboard } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import { asRefusal, type ModelView, type RunDetail } from "../api/client";
import { Popover } from "../ui/popover";
import { formatTime } from "../ui/format";
import { usePlace } from "../state/place";
import { useTime } from "../state/time";
import { asGif, asPngs, type Film } from "./film";
import { save } from "../charts/svg";
import type { ShownStrip } from "./use-curves";

interface Props {
  view: ModelView;
  run: RunDetail | undefined;
  strips: ShownStrip[];
  extent: [number, number];
  runName: (run: number) => string;
}

/** The replay as a file: an animated picture, or a numbered sequence. */
export function FilmMenu(props: Props) {
  const { run } = props;
  if (!run || run.points === 0) return null;
  return (
    <Popover
      label={<Clapperboard size={13} />}
      words="Replay as a file"
      title="The replay as a file: an animated picture or a sequence"
      className="btn btn-ghost btn-xs shrink-0 px-1"
      testid="film"
    >
      {(close) => <Making {...props} run={run} onDone={close} />}
    </Popover>
  );
}

function Making({
  view,
  run,
  strips,
  extent,
  runName,
  onDone,
}: Props & { run: RunDetail; onDone: () => void }) {
  const range = useTime((s) => s.range) ?? extent;
  const [frames, setFrames] = useState(60);
  const [seconds, setSeconds] = useState(6);
  const [withStrips, setWithStrips] = useState(true);
  const [share, setShare] = useState<number | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const work = useRef<AbortController | null>(null);
  useEffect(() => () => work.current?.abort(), []);
  const make = async (kind: "gif" | "zip") => {
    const control = new AbortController();
    work.current = control;
    setFault(null);
    setShare(0);
    const film: Film = {
      sheet: view.sheet,
      rows: view.rows,
      wires: usePlace.getState().wireMarks,
      run,
      strips: withStrips ? strips : [],
      runName,
      range,
      frames,
      width: 860,
    };
    try {
      const made =
        kind === "gif"
          ? await asGif(film, seconds, control.signal, setShare)
          : await asPngs(film, control.signal, setShare);
      if (control.signal.aborted) return;
      save(`${view.sheet.name} run ${run.number}.${kind}`, made);
      onDone();
    } catch (refused) {
      setFault(asRefusal(refused).sentence);
    } finally {
      setShare(null);
    }
  };
  return (
    <div className="flex w-80 flex-col gap-2">
      <p>
        Run {run.number}, {formatTime(range[0])} to {formatTime(range[1])}
      </p>
      <div className="flex items-center gap-3">
        <Whole
          words="frames"
          value={frames}
          low={2}
          high={600}
          onChange={setFrames}
          testid="film-frames"
        />
        <Whole
          words="seconds"
          value={seconds}
          low={1}
          high={300}
          onChange={setSeconds}
          testid="film-seconds"
        />
      </div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={withStrips}
          onChange={(event) => setWithStrips(event.target.checked)}
        />{" "}
        with the strips under the sheet
      </label>
      {share === null ? (
        <div className="flex gap-1">
          <button
            type="button"
            className="btn btn-sm font-normal"
            onClick={() => void make("gif")}
            data-testid="film-gif"
          >
            Animated GIF
          </button>
          <button
            type="button"
            className="btn btn-sm font-normal"
            onClick={() => void make("zip")}
            data-testid="film-zip"
          >
            PNG sequence
          </button>
        </div>
      ) : (
        <div className="flex items-center gap-2">
          <progress className="progress w-full" value={share} max={1} aria-label="Frames drawn" />
          <button
            type="button"
            className="btn btn-sm font-normal"
            onClick={() => work.current?.abort()}
          >
            Stop
          </button>
        </div>
      )}
      {fault && (
        <p className="text-error" role="alert">
          ✕ {fault}
        </p>
      )}
    </div>
  );
}

function Whole({
  words,
  value,
  low,
  high,
  onChange,
  testid,
}: {
  words: string;
  value: number;
  low: number;
  high: number;
  onChange: (value: number) => void;
  testid: string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const kept = (text: string) => Math.min(high, Math.max(low, Math.round(Number(text) || low)));
  return (
    <label className="flex items-center gap-1">
      <input
        className="input input-xs mono w-16"
        type="number"
        min={low}
        max={high}
        value={typed ?? value}
        onChange={(event) => (setTyped(event.target.value), onChange(kept(event.target.value)))}
        onBlur={() => setTyped(null)}
        data-testid={testid}
      />{" "}
      {words}
    </label>
  );
}
