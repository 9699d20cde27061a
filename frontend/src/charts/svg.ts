import { formatNumber, formatUnit, withIn } from "../ui/format";
import { TIME_UNITS } from "../state/suited-unit";
import { bounds, DASHES, type DrawnCurve } from "./curves";

export interface Picture {
  curves: DrawnCurve[];
  range: [number, number];
  /** An instant that is marked, if any. */
  cursor?: number;
  width: number;
  height: number;
  /** Colour of a slot, of ink, of rules and of the ground. */
  colour: (slot: number) => string;
  ink: string;
  rule: string;
  ground: string;
  /** What a run is called in the legend. */
  runName: (run: number) => string;
  /** The unit in which times are shown. */
  timeUnit?: string;
}

/** Round numbers between two values, about as many as wanted. */
export function ticks(low: number, high: number, wanted: number): number[] {
  const span = high - low;
  if (!(span > 0) || !Number.isFinite(span)) return [low];
  const rough = span / wanted;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough)!;
  const ticks: number[] = [];
  for (let k = Math.ceil(low / step); k * step <= high + step * 1e-9; k += 1) ticks.push(k * step);
  return ticks;
}

const FONT = "'IBM Plex Sans', 'DejaVu Sans', sans-serif";

/** A strip as a picture of its own, with axes, units and a legend: a document of lines that any program reads. */
export function stripSvg({
  curves,
  range,
  cursor,
  width,
  height,
  colour,
  ink,
  rule,
  ground,
  runName,
  timeUnit = "s",
}: Picture): string {
  const names = [...new Set(curves.map((c) => c.name))];
  const runs = [...new Set(curves.map((c) => c.run))];
  const sides = (["left", "right"] as const).filter((side) => curves.some((c) => c.side === side));
  const [left, right, top, bottom] = [
    64,
    sides.includes("right") ? 64 : 14,
    12,
    40 + 16 * Math.ceil((names.length + runs.length) / 3),
  ];
  const x = (t: number) => left + ((t - range[0]) / (range[1] - range[0])) * (width - left - right);
  const scales = new Map(
    sides.map((side) => {
      let [low, high] = bounds(
        curves.filter((c) => c.side === side),
        ...range,
      ) ?? [0, 1];
      if (!(high > low)) [low, high] = [low - 1, low + 1];
      const room = (high - low) * 0.06;
      [low, high] = [low - room, high + room];
      return [
        side,
        {
          low,
          high,
          y: (v: number) => height - bottom - ((v - low) / (high - low)) * (height - top - bottom),
        },
      ] as const;
    }),
  );
  const out: string[] = [];
  out.push(`<rect width="${width}" height="${height}" fill="${ground}"/>`);
  const size = TIME_UNITS[timeUnit]!;
  for (const t of ticks(range[0] / size, range[1] / size, 8).map((v) => v * size)) {
    out.push(
      `<path d="M${n(x(t))} ${top}V${height - bottom}" stroke="${rule}"/>`,
      text(x(t), height - bottom + 15, formatNumber(t / size), ink, "middle"),
    );
  }
  for (const [side, { low, high, y }] of scales) {
    for (const v of ticks(low, high, 6)) {
      if (side === "left")
        out.push(
          `<path d="M${left} ${n(y(v))}H${width - right}" stroke="${rule}"/>`,
          text(left - 6, y(v) + 4, formatNumber(v), ink, "end"),
        );
      else
        out.push(
          `<path d="M${width - right} ${n(y(v))}h4" stroke="${rule}"/>`,
          text(width - right + 6, y(v) + 4, formatNumber(v), ink, "start"),
        );
    }
    const shown = formatUnit(curves.find((c) => c.side === side)!.unit);
    if (shown)
      out.push(
        text(
          side === "left" ? 6 : width - 6,
          top + 8,
          shown,
          ink,
          side === "left" ? "start" : "end",
        ),
      );
  }
  out.push(
    text((left + width - right) / 2, height - bottom + 30, withIn("time", timeUnit), ink, "middle"),
  );
  out.push(
    `<clipPath id="inside"><rect x="${left}" y="${top}" width="${width - left - right}" height="${height - top - bottom}"/></clipPath><g clip-path="url(#inside)" fill="none" stroke-width="1.6">`,
  );
  for (const curve of curves) {
    const { y } = scales.get(curve.side)!;
    const points = curve.time.map((t, i) => `${n(x(t))} ${n(y(curve.values[i]!))}`);
    const dash = DASHES[curve.order % DASHES.length]!;
    out.push(
      `<path d="M${points.join("L")}" stroke="${colour(curve.slot)}"${dash.length ? ` stroke-dasharray="${dash.join(" ")}"` : ""}${(curve.shade ?? 1) < 1 ? ` opacity="${curve.shade}"` : ""}/>`,
    );
  }
  out.push("</g>");
  if (cursor !== undefined)
    out.push(`<path d="M${n(x(cursor))} ${top}V${height - bottom}" stroke="${ink}"/>`);
  const onRight = new Set(curves.filter((c) => c.side === "right").map((c) => c.name));
  const entries = [
    ...names.map((name, i) => ({
      words: onRight.has(name) ? `${name} (right)` : name,
      stroke: ink,
      dash: DASHES[i % DASHES.length]!,
    })),
    ...runs.map((run) => ({
      words: runName(run),
      stroke: colour(curves.find((c) => c.run === run)!.slot),
      dash: [] as number[],
    })),
  ];
  entries.forEach(({ words, stroke, dash }, i) => {
    const [cx, cy] = [
      left + (i % 3) * ((width - left - right) / 3),
      height - bottom + 46 + 16 * Math.floor(i / 3),
    ];
    out.push(
      `<path d="M${n(cx)} ${cy - 4}h22" stroke="${stroke}" stroke-width="2"${dash.length ? ` stroke-dasharray="${dash.join(" ")}"` : ""}/>`,
      text(cx + 28, cy, words, ink, "start"),
    );
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${out.join("")}</svg>`;
}

function n(value: number): string {
  return value.toFixed(2);
}

function text(x: number, y: number, words: string, ink: string, anchor: string): string {
  const safe = words.replaceAll("&", "&amp;").replaceAll("<", "&lt;");
  return `<text x="${n(x)}" y="${n(y)}" font-family="${FONT}" font-size="12" fill="${ink}" text-anchor="${anchor}">${safe}</text>`;
}

/** Hand a file to the person. */
export function save(name: string, data: Blob): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(data);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** A picture of lines as one of points, so many to a pixel. */
export async function rastered(
  svg: string,
  width: number,
  height: number,
  fine: number,
): Promise<HTMLCanvasElement> {
  const image = new Image();
  const address = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  await new Promise((done, failed) => {
    image.onload = done;
    image.onerror = failed;
    image.src = address;
  });
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [fine * width, fine * height];
  canvas.getContext("2d")!.drawImage(image, 0, 0, fine * width, fine * height);
  URL.revokeObjectURL(address);
  return canvas;
}

/** A picture of lines as one of points in a file, twice as fine as the screen. */
export async function asPng(svg: string, width: number, height: number): Promise<Blob> {
  const canvas = await rastered(svg, width, height, 2);
  return new Promise((done, failed) =>
    canvas.toBlob((blob) => (blob ? done(blob) : failed(new Error("no picture"))), "image/png"),
  );
}
