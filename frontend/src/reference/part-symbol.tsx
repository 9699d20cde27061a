import type { Schemas, SheetComponent } from "../api/client";
import { boxOf } from "../drawing/geometry";
import { Symbol } from "../drawing/symbol";

/** The symbol of a class as it looks on the sheet. */
export function PartSymbol({
  icon,
  name,
  small = false,
}: {
  icon: Schemas["Icon"];
  name: string;
  small?: boolean;
}) {
  const [x1 = -100, y1 = -100, x2 = 100, y2 = 100] = icon.extent;
  const width = small ? 17 : 40;
  const height = (width * Math.abs(y2 - y1)) / (Math.abs(x2 - x1) || 1);
  // What a part of it would fill in is shown by its name; labels beside the symbol are left out.
  const graphics = icon.graphics.flatMap((shape) => {
    if (shape.is !== "Text") return [shape];
    const [[, top = 0] = [], [, bottom = 0] = []] = (shape.extent as number[][] | undefined) ?? [];
    const inside =
      Math.max(top, bottom) <= Math.max(y1, y2) + 5 &&
      Math.min(top, bottom) >= Math.min(y1, y2) - 5;
    return inside
      ? [
          {
            ...shape,
            textString: ((shape.textString as string | undefined) ?? "").replace(/%(\w+)/g, "$1"),
          },
        ]
      : [];
  });
  const component = {
    name: "",
    class: name,
    description: "",
    extent: [0, 0, width, height],
    rotation: 0,
    icon: { ...icon, graphics },
  } as unknown as SheetComponent;
  const box = boxOf(component.extent);
  const margin = small ? 7 : 14;
  return (
    <svg
      viewBox={`${-margin} ${-margin} ${box.width + 2 * margin} ${box.height + 2 * margin}`}
      className={small ? "h-9 w-10 shrink-0" : "h-28 w-32 shrink-0"}
      aria-hidden="true"
    >
      <Symbol component={component} />
    </svg>
  );
}
