/** How every floating panel looks. */
export const PANEL = "z-30 border border-base-300 bg-base-100 text-[13px] shadow-md";
