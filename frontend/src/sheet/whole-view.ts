import { getViewportForBounds, type Viewport } from "@xyflow/react";

import { boxOf } from "../drawing/geometry";

/** How far the sheet can be zoomed out and in. */
export const [LEAST_ZOOM, MOST_ZOOM] = [0.1, 6];
/** The zoom at which texts have the size of those around the sheet: a small sheet is not blown up beyond it. */
const NATURAL = 1;
/** Room around a sheet that is shown as a whole; below there are buttons. */
const ROOM = { top: 0.04, left: 0.04, right: 0.04, bottom: "44px" } as const;

/** Where the sheet must lie so that all of it is in view. */
export function wholeView(extent: number[], size: { width: number; height: number }): Viewport {
  const { x, y, width, height } = boxOf(extent);
  return getViewportForBounds(
    { x, y, width, height },
    Math.max(size.width, 50),
    Math.max(size.height, 50),
    LEAST_ZOOM,
    NATURAL,
    ROOM,
  );
}
