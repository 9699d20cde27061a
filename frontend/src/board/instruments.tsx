import { formatNumber, formatUnit } from "../ui/format";
import { shareOf, type Tile } from "./grid";
import type { Shown } from "./use-live-values";

interface Props {
  tile: Tile;
  shown: Shown;
}

/** The ends of a scale: those that were chosen, else something around the value. */
function endsOf(tile: Tile, value: number | null): [number, number] {
  const size = Math.max(Math.abs(value ?? 0), 1e-12);
  const power = 10 ** Math.ceil(Math.log10(size));
  return [tile.low ?? (value !== null && value < 0 ? -power : 0), tile.high ?? power];
}

function words(shown: Shown): string {
  return shown.value === null ? "–" : formatNumber(shown.value, 4);
}

/** Whether a value is outside of what is well; without bounds it never is. */
function outside(tile: Tile, value: number | null): boolean {
  const [low, high] = tile.good;
  return (
    value !== null && ((low !== undefined && value < low) || (high !== undefined && value > high))
  );
}

const BEGIN = (-210 * Math.PI) / 180;
const TURN = (240 * Math.PI) / 180;

function point(share: number, radius: number): string {
  const angle = BEGIN + TURN * share;
  return `${(60 + radius * Math.cos(angle)).toFixed(2)},${(58 + radius * Math.sin(angle)).toFixed(2)}`;
}

function arc(from: number, to: number, radius: number): string {
  const large = TURN * (to - from) > Math.PI ? 1 : 0;
  return `M${point(from, radius)} A${radius},${radius} 0 ${large} 1 ${point(to, radius)}`;
}

/** A round scale with a pointer; the range of what is well is marked. */
export function Instrument({ tile, shown }: Props) {
  const [low, high] = endsOf(tile, shown.value);
  const share = shareOf(shown.value ?? low, low, high);
  const [from, to] = [tile.good[0] ?? low, tile.good[1] ?? high];
  return (
    <svg
      viewBox="0 0 120 104"
      className="h-full w-full"
      role="img"
      aria-label={`${words(shown)} ${shown.unit}`}
    >
      <path d={arc(0, 1, 48)} fill="none" stroke="var(--color-base-300)" strokeWidth="5" />
      {tile.good.length > 0 && (
        <path
          d={arc(shareOf(from, low, high), shareOf(to, low, high), 48)}
          fill="none"
          stroke="var(--color-success, var(--run-2))"
          strokeWidth="5"
        />
      )}
      {[0, 0.25, 0.5, 0.75, 1].map((s) => (
        <line
          key={s}
          x1={point(s, 44).split(",")[0]}
          y1={point(s, 44).split(",")[1]}
          x2={point(s, 51).split(",")[0]}
          y2={point(s, 51).split(",")[1]}
          stroke="var(--color-base-content)"
        />
      ))}
      <line
        x1="60"
        y1="58"
        x2={point(share, 40).split(",")[0]}
        y2={point(share, 40).split(",")[1]}
        stroke={outside(tile, shown.value) ? "var(--color-error)" : "var(--color-base-content)"}
        strokeWidth="2.5"
      />
      <circle cx="60" cy="58" r="3.5" fill="var(--color-base-content)" />
      <text x="14" y="96" fontSize="9" fill="var(--color-secondary)" textAnchor="middle">
        {formatNumber(low, 3)}
      </text>
      <text x="106" y="96" fontSize="9" fill="var(--color-secondary)" textAnchor="middle">
        {formatNumber(high, 3)}
      </text>
      <text
        x="60"
        y="86"
        fontSize="13"
        fill="currentColor"
        textAnchor="middle"
        className="font-medium"
      >
        {words(shown)}
      </text>
      <text x="60" y="98" fontSize="9" fill="var(--color-secondary)" textAnchor="middle">
        {formatUnit(shown.unit)}
      </text>
    </svg>
  );
}

/** A value in large digits. */
export function NumberTile({ tile, shown }: Props) {
  return (
    <p
      className={`flex h-full items-baseline justify-center gap-1 pt-1 text-2xl ${outside(tile, shown.value) ? "text-error" : ""}`}
      data-testid="board-number"
    >
      {words(shown)} <span className="muted text-sm">{formatUnit(shown.unit)}</span>
    </p>
  );
}

/** A lamp that is lit while its value is above a bound. */
export function Lamp({ tile, shown }: Props) {
  const lit = shown.value !== null && shown.value > (tile.low ?? 0.5);
  return (
    <p className="flex h-full items-center gap-2 px-2" role="status">
      <svg width="18" height="18" aria-hidden="true">
        <circle
          cx="9"
          cy="9"
          r="7"
          fill={lit ? "var(--color-primary)" : "transparent"}
          stroke="var(--color-base-content)"
          strokeWidth="1.5"
        />
      </svg>
      {lit ? "on" : shown.value === null ? "–" : "off"}
    </p>
  );
}

/** A bar from the low end of its scale to the value. */
export function Bar({ tile, shown }: Props) {
  const [low, high] = endsOf(tile, shown.value);
  const share = shareOf(shown.value ?? low, low, high);
  const [from, to] = tile.good;
  return (
    <div className="flex h-full items-stretch justify-center gap-2 px-2 pb-1">
      <div className="relative w-8 border border-base-300">
        <div
          className="absolute inset-x-0 bottom-0"
          style={{
            height: `${100 * share}%`,
            background: outside(tile, shown.value) ? "var(--color-error)" : "var(--run-0)",
          }}
        />
        {[from, to].map(
          (bound, k) =>
            bound !== undefined && (
              <div
                key={k}
                className="absolute inset-x-0 border-t border-base-content"
                style={{ bottom: `${100 * shareOf(bound, low, high)}%` }}
              />
            ),
        )}
      </div>
      <div className="muted flex flex-col justify-between text-[11px]">
        <span>{formatNumber(high, 3)}</span>
        <span className="text-[13px] text-base-content">
          {words(shown)} <span className="muted">{formatUnit(shown.unit)}</span>
        </span>
        <span>{formatNumber(low, 3)}</span>
      </div>
    </div>
  );
}

/** Names with their values. */
export function ValueTable({ names, shown }: { names: string[]; shown: (name: string) => Shown }) {
  return (
    <table className="w-full">
      <tbody>
        {names.map((name) => {
          const now = shown(name);
          return (
            <tr key={name} className="align-baseline">
              <td className="truncate px-1">{name}</td>
              <td className="mono px-1 text-right">{words(now)}</td>
              <td className="muted w-12">{formatUnit(now.unit)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
