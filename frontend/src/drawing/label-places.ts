import type { Sheet, SheetComponent } from "../api/client";
import { boxOf, SCALE } from "./geometry";
import type { Shape } from "./shapes";
import { isName, isOutside, placedTexts } from "./text-places";
import { fillIn } from "./words";

/** How words beside a symbol are moved from where its class puts them, in pixels of the drawing. */
export type Shift = readonly [number, number];

export interface LabelShifts {
  name?: Shift;
  value?: Shift;
}

interface Rectangle {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Height of a label and the usual width of a letter, in pixels of the drawing. */
const [HEIGHT, LETTER] = [13, 7.2];
/** What is kept free around a label, in pixels. */
const ROOM = 1;

/** By part: how its words are moved so that no wire and no other part runs through them; only those that must move. */
export function labelShifts(
  sheet: Pick<Sheet, "components" | "connections">,
): Map<string, LabelShifts> {
  const obstacles = new Obstacles();
  for (const { points } of sheet.connections)
    points.slice(1).forEach((b, i) => obstacles.add(segment(points[i]!, b), ""));
  for (const part of sheet.components) obstacles.add(around(part), part.name);
  const shifts = new Map<string, LabelShifts>();
  for (const part of sheet.components) {
    if (part.port) continue;
    const own = around(part);
    const texts = placedTexts(part).filter((t) => isOutside(t, part.icon.extent));
    const placed: Rectangle[] = [];
    // The name finds its place first, the value after it.
    for (const kind of ["name", "value"] as const) {
      const text = texts.find((t) => isName(t) === (kind === "name"));
      const label = text && labelBox(part, text);
      if (!label) continue;
      const cost = (at: Rectangle) =>
        obstacles.met(at, part.name) + 2 * placed.filter((other) => meet(at, other)).length;
      const shift = cheapest(label, candidates(label, own, placed[0]), cost);
      placed.push(moved(label, shift));
      if (shift !== STAYS) shifts.set(part.name, { ...shifts.get(part.name), [kind]: shift });
    }
  }
  return shifts;
}

/** Width and height of the fields by which obstacles are found, in pixels of the drawing. */
const FIELD = 120;

/** Wires and parts by the fields of the sheet that they lie in, so that those near a label are found at once. */
class Obstacles {
  private readonly fields = new Map<string, { box: Rectangle; name: string }[]>();

  add(box: Rectangle, name: string): void {
    const obstacle = { box, name };
    for (const key of fieldsOf(box)) {
      const field = this.fields.get(key);
      if (field) field.push(obstacle);
      else this.fields.set(key, [obstacle]);
    }
  }

  /** How many of them a rectangle meets, those of a name left out. */
  met(at: Rectangle, except: string): number {
    const seen = new Set<Rectangle>();
    for (const key of fieldsOf(at))
      for (const { box, name } of this.fields.get(key) ?? [])
        if (name !== except && meet(at, box)) seen.add(box);
    return seen.size;
  }
}

function fieldsOf({ left, top, right, bottom }: Rectangle): string[] {
  const keys: string[] = [];
  for (let x = Math.floor((left - ROOM) / FIELD); x <= Math.floor((right + ROOM) / FIELD); x += 1)
    for (let y = Math.floor((top - ROOM) / FIELD); y <= Math.floor((bottom + ROOM) / FIELD); y += 1)
      keys.push(`${x} ${y}`);
  return keys;
}

const STAYS: Shift = [0, 0];

function cheapest(label: Rectangle, others: Shift[], cost: (at: Rectangle) => number): Shift {
  let [best, least] = [STAYS, cost(label)];
  for (const shift of others) {
    if (least === 0) break;
    const now = cost(moved(label, shift));
    if (now < least) [best, least] = [shift, now];
  }
  return best;
}

/** Other places for a label, the nearest first. */
function candidates(label: Rectangle, own: Rectangle, named: Rectangle | undefined): Shift[] {
  const [width, middle] = [label.right - label.left, (label.left + label.right) / 2];
  const toRight = own.right + 8 - label.left;
  const toLeft = own.left - 8 - label.right;
  const half = width / 2 + 8;
  const up = (own.top + own.bottom) / 2 - (label.top + label.bottom) / 2;
  const above = (named ?? own).top - 4 * ROOM - label.bottom;
  const below = label.top < own.top ? own.bottom + 2 * ROOM - label.top : 0;
  const centre = (own.left + own.right) / 2 - middle;
  return [
    [0, HEIGHT + ROOM],
    [centre + half, 0],
    [centre - half, 0],
    [centre, above],
    [centre, below],
    [toRight, up],
    [toLeft, up],
    [toRight, 0],
    [toLeft, 0],
    [toRight, own.top - label.top - HEIGHT],
    [toLeft, own.top - label.top - HEIGHT],
  ];
}

/** The place of a text above or below its symbol, as it is drawn; undefined for one without letters. */
function labelBox(part: SheetComponent, text: Shape): Rectangle | undefined {
  const box = boxOf(part.extent);
  const [x1 = -100, y1 = -100, x2 = 100, y2 = 100] = part.icon.extent;
  const [sx, sy] = [box.width / (x2 - x1), box.height / (y2 - y1)];
  const [[a = 0, b = 0] = [], [c = 0, d = 0] = []] = text.extent ?? [];
  const words = fillIn(text.textString ?? "", {
    name: part.name,
    className: part.class,
    labels: part.labels ?? {},
  });
  if (!words) return undefined;
  const width = words.length * LETTER;
  const start = box.x + (Math.min(a, c) - x1) * sx;
  const middle = box.x + ((a + c) / 2 - x1) * sx;
  const left = text.horizontalAlignment === "Left" ? start : middle - width / 2;
  const above = Math.min(b, d) >= 90;
  const below = Math.max(b, d) <= -90;
  const edge = box.y + (y2 - (above ? Math.min(b, d) : below ? Math.max(b, d) : (b + d) / 2)) * sy;
  const top = above ? edge - HEIGHT : below ? edge : edge - HEIGHT / 2;
  return { left, top, right: left + width, bottom: top + HEIGHT };
}

function around(part: SheetComponent): Rectangle {
  const { x, y, width, height } = boxOf(part.extent);
  return { left: x, top: y, right: x + width, bottom: y + height };
}

function segment(a: number[], b: number[]): Rectangle {
  const [x1, x2] = [a[0]! * SCALE, b[0]! * SCALE];
  const [y1, y2] = [-a[1]! * SCALE, -b[1]! * SCALE];
  return {
    left: Math.min(x1, x2),
    right: Math.max(x1, x2),
    top: Math.min(y1, y2),
    bottom: Math.max(y1, y2),
  };
}

function moved(box: Rectangle, [dx, dy]: Shift): Rectangle {
  return {
    left: box.left + dx,
    right: box.right + dx,
    top: box.top + dy,
    bottom: box.bottom + dy,
  };
}

function meet(a: Rectangle, b: Rectangle): boolean {
  return (
    a.left - ROOM < b.right &&
    b.left < a.right + ROOM &&
    a.top - ROOM < b.bottom &&
    b.top < a.bottom + ROOM
  );
}
