import type { Schemas } from "../api/client";
import type { Frame } from "../charts/axes";

export type Detail = Schemas["SweepDetail"];
export type Point = Schemas["PointView"];

/** What every picture of a sweep is given: the sweep and the point that is looked at. */
export interface PartProps {
  sweep: Detail;
  picked: number | null;
  onPick: (point: number) => void;
}

/** The frame in which the pictures of a sweep are drawn, in pixels. */
export const FRAME: Frame = { width: 760, height: 300, left: 70, right: 16, top: 22, bottom: 40 };
