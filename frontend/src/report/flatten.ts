/** What of a drawing's look comes from style sheets and must stand at the shape itself where these are not read. */
const LOOKS = [
  "fill",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "stroke-linejoin",
  "opacity",
  "font-size",
  "font-weight",
] as const;

/**
 * A page whose drawings need no style sheet: every shape carries its colours and widths as plain numbers.
 * The page is laid out in a hidden frame, which is asked what it looks like.
 */
export async function flattened(page: string): Promise<string> {
  const frame = document.createElement("iframe");
  frame.style.cssText = "position:fixed;left:-10000px;width:1000px;height:800px;visibility:hidden";
  frame.srcdoc = page;
  const loaded = new Promise((done) => (frame.onload = done));
  document.body.append(frame);
  await loaded;
  const inner = frame.contentDocument!;
  const colour = colours();
  const shapes = [...inner.querySelectorAll<SVGElement>("svg *")];
  for (const shape of shapes) {
    const look = frame.contentWindow!.getComputedStyle(shape);
    if (look.display === "none") {
      shape.setAttribute("display", "none");
      continue;
    }
    for (const name of LOOKS) {
      const value = look.getPropertyValue(name);
      if (value)
        shape.setAttribute(name, name === "fill" || name === "stroke" ? colour(value) : value);
    }
  }
  // Only now: what lies inside takes its colours from what is around it.
  for (const shape of shapes) {
    shape.removeAttribute("class");
    shape.removeAttribute("style");
  }
  const flat = `<!doctype html>${inner.documentElement.outerHTML}`;
  frame.remove();
  return flat;
}

/** Any colour of the browser as #rrggbb. */
function colours(): (value: string) => string {
  const known = new Map<string, string>();
  const pen = document.createElement("canvas").getContext("2d", { willReadFrequently: true })!;
  return (value) => {
    if (value === "none" || value.startsWith("url(")) return value;
    const flattened = known.get(value);
    if (flattened) return flattened;
    pen.clearRect(0, 0, 1, 1);
    pen.fillStyle = value;
    pen.fillRect(0, 0, 1, 1);
    const [r = 0, g = 0, b = 0, a = 0] = pen.getImageData(0, 0, 1, 1).data;
    const made =
      a === 0 ? "none" : `#${[r, g, b].map((v) => v.toString(16).padStart(2, "0")).join("")}`;
    known.set(value, made);
    return made;
  };
}
