import { useStore } from "@xyflow/react";
import { useEffect, type RefObject } from "react";

/** The size on the screen, in pixels, below which a label of 13 px is not let, and how much larger it is drawn at most. */
const [LEAST, MOST] = [10.5, 2.2];
/** Zoom below which only names are written, values not. */
const NAMES_ONLY = 0.55;
/** Zoom below which wires become no thinner on the screen. */
const THIN = 0.6;
/** Zoom from which the names of ports are written. */
const CLOSE = 1.6;

/** Keeps the words on the sheet readable: they shrink less than the drawing, and values go before names do. */
export function LabelScale({ host }: { host: RefObject<HTMLDivElement | null> }) {
  // In steps, so that a turn of the wheel does not lay out every word at every frame.
  const scale = useStore(
    (s) => Math.round(20 * Math.min(MOST, Math.max(1, LEAST / 13 / s.transform[2]))) / 20,
  );
  const lines = useStore((s) => Math.round(10 * Math.max(1, THIN / s.transform[2])) / 10);
  const far = useStore((s) => s.transform[2] < NAMES_ONLY);
  const near = useStore((s) => s.transform[2] >= CLOSE);
  useEffect(() => {
    host.current?.style.setProperty("--label-scale", String(scale));
    host.current?.style.setProperty("--line-scale", String(lines));
  }, [host, scale, lines]);
  useEffect(() => {
    host.current?.classList.toggle("names-only", far);
    host.current?.classList.toggle("port-names", near);
  }, [host, far, near]);
  return null;
}
