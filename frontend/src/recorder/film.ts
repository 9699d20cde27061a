import { createElement } from "react";
import { renderToStaticMarkup } from "react-dom/server";

import type { Row, RunDetail, Sheet } from "../api/client";
import { fetchValues } from "../api/queries";
import { formatTime } from "../ui/format";
import { drawingRules, PAPER_COLOURS } from "../drawing/drawing-rules";
import { COLOURS, INK, PAPER, RULE } from "../drawing/paper";
import { frameOf } from "../drawing/picture-frame";
import { SheetPicture } from "../drawing/sheet-picture";
import { shownQuantities } from "../drawing/shown-quantities";
import { CarriedMarks } from "../drawing/carried-marks";
import type { WireMarks } from "../state/place";
import { RUN_COLOURS } from "../state/shown-runs";
import { rastered, stripSvg } from "../charts/svg";
import { useTime } from "../state/time";
import type { ShownStrip } from "./use-curves";

export interface Film {
  sheet: Sheet;
  /** The rows of the ledger, which know what wires carry, and what wires show. */
  rows: Row[];
  wires: WireMarks;
  /** The run whose values move the sheet, and the strips that are shown under it. */
  run: RunDetail;
  strips: ShownStrip[];
  runName: (run: number) => string;
  range: [number, number];
  frames: number;
  /** Width of a frame in pixels. */
  width: number;
}

/** Heights in pixels of a strip and of the line that tells the time. */
const [STRIP, TIME] = [150, 26];

/** The instants of the frames, both ends included. */
export function instants([low, high]: [number, number], frames: number): number[] {
  return Array.from(
    { length: frames },
    (_, k) => low + ((high - low) * k) / Math.max(frames - 1, 1),
  );
}

/** The frames of a replay one by one: the sheet with the values of an instant, the time, and the strips with their cursor. */
export async function* framesOf(
  film: Film,
  signal: AbortSignal,
): AsyncGenerator<{ canvas: HTMLCanvasElement; done: number }> {
  const { sheet, run, range, width, frames } = film;
  // A model of equations alone has nothing to draw but its strips.
  const drawn = sheet.components.length > 0;
  const box = drawn ? frameOf(sheet, true) : { x: 0, y: 0, width, height: 0 };
  const high = Math.round(Math.min((width * box.height) / box.width, width * 0.75));
  const height = high + TIME + STRIP * film.strips.length;
  const rules = `${PAPER_COLOURS}text { font-family: "IBM Plex Sans", "DejaVu Sans", sans-serif; }${drawingRules()}`;
  const names = shownQuantities(sheet, film.rows, run.variables, film.wires);
  const times = instants(range, frames);
  for (const [k, time] of times.entries()) {
    if (signal.aborted) return;
    const { values } = await fetchValues(run.id, names, time);
    const lookupOf = (component: string) => (name: string) =>
      values[`${component}.${name}`] ??
      sheet.components.find((c) => c.name === component)?.numbers[name];
    const drawing = drawn
      ? renderToStaticMarkup(createElement(SheetPicture, { sheet, lookupOf }))
      : "";
    const carried =
      film.wires === "plain"
        ? ""
        : renderToStaticMarkup(
            createElement(CarriedMarks, {
              sheet,
              rows: film.rows,
              variables: run.variables,
              values,
              marks: film.wires,
              size: 1,
            }),
          );
    const strips = film.strips.map(({ curves }, i) => {
      const picture = stripSvg({
        curves,
        range,
        width,
        height: STRIP,
        cursor: time,
        colour: (slot) => COLOURS[slot % RUN_COLOURS]!,
        ink: INK,
        rule: RULE,
        ground: PAPER,
        runName: film.runName,
        timeUnit: useTime.getState().unit,
      });
      return picture
        .replace("<svg ", `<svg y="${high + TIME + i * STRIP}" `)
        .replaceAll("inside", `inside${i}`);
    });
    const svg =
      `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><style>${rules.replaceAll("&", "&amp;").replaceAll("<", "&lt;")}</style><rect width="${width}" height="${height}" fill="${PAPER}"/>` +
      `<svg width="${width}" height="${high}" viewBox="${box.x} ${box.y} ${box.width} ${box.height}">${drawing}${carried}</svg>` +
      `<text x="${width / 2}" y="${high + 17}" font-size="14" text-anchor="middle" fill="${INK}">${formatTime(time, useTime.getState().unit)}</text>${strips.join("")}</svg>`;
    yield { canvas: await rastered(svg, width, height, 1), done: (k + 1) / times.length };
  }
}

/** An animated picture of all frames that takes so many seconds. */
export async function asGif(
  film: Film,
  seconds: number,
  signal: AbortSignal,
  tell: (share: number) => void,
): Promise<Blob> {
  const { GIFEncoder, quantize, applyPalette } = await import("gifenc");
  const gif = GIFEncoder();
  const delay = Math.max(20, (1000 * seconds) / film.frames);
  for await (const { canvas, done } of framesOf(film, signal)) {
    const { data, width, height } = canvas
      .getContext("2d")!
      .getImageData(0, 0, canvas.width, canvas.height);
    const palette = quantize(data, 128);
    gif.writeFrame(applyPalette(data, palette), width, height, { palette, delay });
    tell(done);
  }
  gif.finish();
  return new Blob([gif.bytes() as Uint8Array<ArrayBuffer>], { type: "image/gif" });
}

/** All frames as numbered PNGs in one archive. */
export async function asPngs(
  film: Film,
  signal: AbortSignal,
  tell: (share: number) => void,
): Promise<Blob> {
  const { zipSync } = await import("fflate");
  const files: Record<string, Uint8Array> = {};
  for await (const { canvas, done } of framesOf(film, signal)) {
    const png = await new Promise<Blob>((made, failed) =>
      canvas.toBlob((blob) => (blob ? made(blob) : failed(new Error("no picture"))), "image/png"),
    );
    files[`frame-${String(Object.keys(files).length + 1).padStart(4, "0")}.png`] = new Uint8Array(
      await png.arrayBuffer(),
    );
    tell(done);
  }
  // Pictures are compressed already.
  return new Blob([zipSync(files, { level: 0 })], { type: "application/zip" });
}
