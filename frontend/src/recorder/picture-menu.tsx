import { ImageDown } from "lucide-react";
import { useState } from "react";

import { askPdf, asRefusal } from "../api/client";
import { Popover } from "../ui/popover";
import { useTime } from "../state/time";
import { strokeOf, themeColour, type ChartState } from "./chart";
import { asPng, save, stripSvg } from "../charts/svg";

const KINDS = ["svg", "png", "pdf"] as const;
const [WIDTH, HEIGHT] = [900, 340];

/** A strip as a picture in a file. */
export function PictureMenu({
  title,
  dashed,
  state,
  runName,
}: {
  title: string;
  dashed: string;
  state: ChartState;
  runName: (run: number) => string;
}) {
  const [fault, setFault] = useState<string | null>(null);
  const picture = async (kind: (typeof KINDS)[number]) => {
    setFault(null);
    const svg = stripSvg({
      curves: state.curves,
      range: useTime.getState().range ?? state.extent,
      width: WIDTH,
      height: HEIGHT,
      colour: strokeOf,
      ink: themeColour("--color-base-content"),
      rule: themeColour("--color-base-300"),
      ground: themeColour("--color-base-100"),
      runName,
      timeUnit: state.timeUnit,
    });
    try {
      const made =
        kind === "svg"
          ? new Blob([svg], { type: "image/svg+xml" })
          : kind === "png"
            ? await asPng(svg, WIDTH, HEIGHT)
            : await askPdf(svg);
      save(`${title}.${kind}`, made);
      return true;
    } catch (refused) {
      setFault(asRefusal(refused).sentence);
      return false;
    }
  };
  return (
    <Popover
      label={<ImageDown size={12} />}
      words={`Picture of the strip of ${title}`}
      title="Save this strip as a picture"
      className="muted px-1 hover:text-base-content"
      testid={`picture-${dashed}`}
    >
      {(close) => (
        <>
          <div className="flex gap-1">
            {KINDS.map((kind) => (
              <button
                key={kind}
                type="button"
                className="btn btn-sm font-normal"
                onClick={() => void picture(kind).then((done) => done && close())}
                data-testid={`picture-${kind}`}
              >
                {kind.toUpperCase()}
              </button>
            ))}
          </div>
          {fault && (
            <p className="text-error pt-1" role="alert">
              ✕ {fault}
            </p>
          )}
        </>
      )}
    </Popover>
  );
}
