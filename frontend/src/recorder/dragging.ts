/** What a dragged variable is called while it is on its way to a strip. */
export const CURVE = "application/x-movrel-curve";
