/** What a dragged variable is called while it is on its way to a strip, or to a column of measurements. */
export const CURVE = "application/x-movrel-curve";
