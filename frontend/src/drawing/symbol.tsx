import type { Schemas, SheetComponent } from "../api/client";
import { boxOf, domainClass, portAngle, portOffset } from "./geometry";
import type { Lookup } from "./replay";
import { Shapes, type Shape } from "./shapes";
import type { LabelShifts } from "./label-places";
import { isName, isOutside, movedBy, placedTexts } from "./text-places";

/** A component's symbol with its ports, drawn from the upper left corner of its box; `plain` leaves texts and ports away. */
export function Symbol({
  component,
  lookup,
  plain = false,
  shift,
}: {
  component: SheetComponent;
  lookup?: Lookup | undefined;
  plain?: boolean;
  /** How its words are moved from where the class puts them. */
  shift?: LabelShifts | undefined;
}) {
  const box = boxOf(component.extent);
  if (component.port) return <OwnPort component={component} />;
  const [x1 = -100, y1 = -100, x2 = 100, y2 = 100] = component.icon.extent;
  const sx = (box.width / (x2 - x1)) * (box.mirrored ? -1 : 1);
  const sy = (box.height / (y2 - y1)) * (box.flipped ? -1 : 1);
  const words = {
    name: component.name,
    className: component.class,
    labels: component.labels ?? {},
  };
  const curves = component.curves ?? [];
  // What it holds takes the place of the line that stands for any table.
  const shapes = (component.icon.graphics as unknown as Shape[]).filter(
    (shape) => curves.length === 0 || shape.is !== "Line",
  );
  const turn = component.rotation
    ? `rotate(${-component.rotation} ${box.width / 2} ${box.height / 2})`
    : undefined;
  const place = `translate(${box.mirrored ? box.width : 0} ${box.flipped ? box.height : 0}) scale(${sx} ${sy}) translate(${-x1} ${y2})`;
  // Texts stay upright and unmirrored: they are drawn apart from the shapes.
  const upright = `scale(${Math.abs(sx)} ${Math.abs(sy)}) translate(${-x1} ${y2})`;
  const shifted = (text: Shape) => {
    const by = isName(text) ? shift?.name : shift?.value;
    return by ? movedBy(text, by[0] / Math.abs(sx), -by[1] / Math.abs(sy)) : text;
  };
  return (
    <>
      <g transform={turn}>
        <g transform={place}>
          <Shapes shapes={shapes.filter((s) => s.is !== "Text")} words={words} lookup={lookup} />
          <TableCurves curves={curves} />
        </g>
      </g>
      {!plain && (
        <g transform={upright}>
          <Shapes
            shapes={placedTexts(component).map((text) =>
              isOutside(text, component.icon.extent) ? shifted(text) : text,
            )}
            words={words}
            lookup={lookup}
            pixels={Math.min(Math.abs(sx), Math.abs(sy))}
          />
        </g>
      )}
      {shapes.length === 0 && <Plain width={box.width} height={box.height} name={component.name} />}
      {(plain ? [] : component.icon.ports).map((port) => (
        <PortMark key={port.name} component={component} port={port} />
      ))}
    </>
  );
}

/** The curves of a part's table, within the inner part of its symbol. */
function TableCurves({ curves }: { curves: number[][][] }) {
  return curves.map((curve, k) => (
    <polyline
      key={k}
      points={curve.map(([x = 0, y = 0]) => `${-75 + 150 * x},${70 - 140 * y}`).join(" ")}
      fill="none"
      stroke="currentColor"
      strokeWidth={1.25}
      vectorEffect="non-scaling-stroke"
      strokeLinejoin="round"
    />
  ));
}

/** A port of the model itself, seen from inside, with its name below. */
function OwnPort({ component }: { component: SheetComponent }) {
  const box = boxOf(component.extent);
  const port = component.port!;
  const [x, y] = [box.width / 2, box.height / 2];
  return (
    <g className={domainClass(port.domain)}>
      {port.direction ? (
        <polygon
          points="-9,-9 9,0 -9,9"
          transform={`translate(${x} ${y})`}
          fill="var(--color-base-200)"
          stroke="var(--domain)"
          strokeWidth={1.5}
        />
      ) : (
        <circle cx={x} cy={y} r={8} fill="var(--domain)" />
      )}
      <text
        x={x}
        y={y + 20}
        fontSize={12}
        textAnchor="middle"
        dominantBaseline="central"
        fill="var(--color-base-content)"
        fontWeight={500}
      >
        {component.name}
      </text>
    </g>
  );
}

/** A class without a symbol is a plain tile with its name. */
function Plain({ width, height, name }: { width: number; height: number; name: string }) {
  return (
    <>
      <rect
        width={width}
        height={height}
        fill="var(--color-base-100)"
        stroke="var(--color-base-content)"
        strokeWidth={1.25}
      />
      <text
        x={width / 2}
        y={height / 2}
        fontSize={12}
        textAnchor="middle"
        dominantBaseline="central"
        fill="var(--color-base-content)"
      >
        {name}
      </text>
    </>
  );
}

function PortMark({ component, port }: { component: SheetComponent; port: Schemas["Port"] }) {
  const [x, y] = portOffset(component, port);
  const title = `${component.name}.${port.name}: ${port.description || port.class}`;
  const className = domainClass(port.domain);
  if (port.direction) {
    // Open triangles point with the flow: inwards for an input, outwards for an output.
    const angle = portAngle(component, port) + (port.direction === "in" ? 180 : 0);
    return (
      <polygon
        className={className}
        points="-4,-4.5 4,0 -4,4.5"
        transform={`translate(${x} ${y}) rotate(${angle})`}
        fill="var(--color-base-200)"
        stroke="var(--domain)"
        strokeWidth={1.25}
      >
        <title>{title}</title>
      </polygon>
    );
  }
  return (
    <circle className={className} cx={x} cy={y} r={3.5} fill="var(--domain)">
      <title>{title}</title>
    </circle>
  );
}
