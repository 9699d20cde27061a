import { suited } from "../state/suited-unit";
import { certainDigits, certainParts } from "./certain-digits";
import { formatNumber, formatUnit } from "./format";

/** A number whose digits are pale where they change when the run is computed more exactly; plain where that was not tried. */
export function CertainNumber({
  value,
  unit = "",
  off,
}: {
  value: number;
  unit?: string;
  off: number | null | undefined;
}) {
  const shown = suited(value, unit, formatNumber);
  const factor = value === 0 ? 1 : shown.value / value;
  const words = formatUnit(shown.unit);
  const behind = words && `\u2009${words}`;
  if (off === null || off === undefined)
    return (
      <>
        {formatNumber(shown.value)}
        {behind}
      </>
    );
  const { certain, doubtful, rest } = certainParts(shown.value, Math.abs(off * factor));
  const digits = Math.min(15, certainDigits(value, off));
  return (
    <span
      title={`Computed more exactly it differs by ${formatNumber(off * factor, 2)}${words && ` ${words}`}: ${digits === 0 ? "no digit is" : digits === 1 ? "1 digit is" : `${digits} digits are`} certain`}
      data-certain={digits}
    >
      {certain}
      {doubtful && <span className="opacity-45">{doubtful}</span>}
      {rest}
      {behind}
    </span>
  );
}
