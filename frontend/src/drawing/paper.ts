/** Light colours, whatever the theme of the screen: the page is for paper. */
export const INK = "#1c2230",
  RULE = "#d9d6cc",
  PAPER = "#ffffff";
export const COLOURS = [
  "#0072b2",
  "#d55e00",
  "#009e73",
  "#cc79a7",
  "#e69f00",
  "#56b4e9",
  "#1c2230",
];
