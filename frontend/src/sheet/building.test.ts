import { describe, expect, it } from "vitest";

import type { Sheet, SheetComponent } from "../api/client";
import { wireToEnter } from "./enter-wire";
import { clearPlaces, fedBy, fits, freeSpot, movedExtent, portName, snapped } from "./building";

const port = (name: string, direction = "", domain = "signal", cls = "S") => ({
  name,
  class: cls,
  domain,
  direction,
  extent: [],
  rotation: 0,
  description: "",
});
const part = (name: string, extent: number[], ...ports: ReturnType<typeof port>[]) => ({
  name,
  class: "C",
  description: "",
  extent,
  rotation: 0,
  icon: { extent: [], graphics: [], ports },
});
const sheet = {
  components: [
    part("a", [-20, -20, 20, 20], port("y", "out"), port("p", "", "process", "L")),
    part(
      "b",
      [40, -20, 80, 20],
      port("u", "in"),
      port("y", "out"),
      port("h", "", "thermal", "H"),
      port("q", "", "process", "L"),
    ),
  ],
  connections: [],
} as unknown as Sheet;

describe("building on the sheet", () => {
  it("knows where an input has its signal from", () => {
    const wired = { ...sheet, connections: [{ from: "a.y", to: "b.u" }] } as unknown as Sheet;
    expect(fedBy(wired, "b.y", "b.u")).toEqual({ input: "b.u", by: "a.y" });
    expect(fedBy(wired, "b.u", "b.y")).toEqual({ input: "b.u", by: "a.y" });
    expect(fedBy(wired, "a.y", "b.u")).toBeNull();
    expect(fedBy(sheet, "b.y", "b.u")).toBeNull();
    expect(fedBy(wired, "a.p", "b.q")).toBeNull();
  });
  it("joins outputs with inputs and like with like", () => {
    expect(fits(sheet, "a", "y", "b", "u")).toBe(true);
    expect(fits(sheet, "a", "y", "b", "y")).toBe(false);
    expect(fits(sheet, "a", "p", "b", "q")).toBe(true);
    expect(fits(sheet, "a", "p", "b", "h")).toBe(false);
    expect(fits(sheet, "a", "p", "a", "p")).toBe(false);
    expect(fits(sheet, "a", "nothing", "b", "u")).toBe(false);
  });
  it("keeps mirrored extents mirrored when moved", () => {
    expect(movedExtent([20, -20, -20, 20], { x: 0, y: 0 })).toEqual([40, -40, 0, 0]);
    expect(movedExtent([-20, -20, 20, 20], { x: -40, y: -40 })).toEqual([-20, -20, 20, 20]);
  });
  it("finds room beside what is there", () => {
    const spot = freeSpot(sheet, { x: 0, y: 0 });
    expect(Math.abs(spot.x) + Math.abs(spot.y)).toBeGreaterThan(0);
    expect(freeSpot(sheet, { x: 300, y: 300 })).toEqual({ x: 300, y: 300 });
  });
  it("names ports and rounds to the grid", () => {
    expect(portName("a", "y")).toBe("a.y");
    expect(portName("a", null)).toBe("a");
    expect(snapped(3.2)).toBe(4);
  });
});

it("moves a dropped part clear of others, of their ports and of wires that are not its own", () => {
  const port = (name: string, x: number) => ({ name, extent: [x - 10, -10, x + 10, 10] });
  const icon = { extent: [-100, -100, 100, 100], ports: [port("a", -100), port("b", 100)] };
  const part = (name: string, x: number, y: number) => ({
    name,
    icon,
    rotation: 0,
    extent: [x - 20, y - 20, x + 20, y + 20],
  });
  const plan = {
    components: [part("one", 0, 0), part("two", 200, 0), part("three", 100, 100)],
    connections: [{ from: "one.b", to: "two.a", points: [[20, 0], [180, 0]] }],
  } as unknown as Sheet; // prettier-ignore
  const dropped = (x: number, y: number) =>
    clearPlaces(plan, [{ name: "three", extent: part("", x, y).extent, rotation: 0 }])[0]!.extent;
  expect(dropped(100, 60)).toEqual([80, 40, 120, 80]);
  // On the wire: beside it, so that neither port seems connected.
  const [, low, , high] = dropped(100, 0);
  expect(Math.abs((low! + high!) / 2)).toBeGreaterThanOrEqual(3);
  // On another part, and port to port.
  const [left, bottom, right, top] = dropped(10, 10);
  expect(left! >= 18 || bottom! >= 18 || right! <= -18 || top! <= -18).toBe(true);
  expect(dropped(-40, 0)).not.toEqual([-60, -20, -20, 20]);
});

it("lets a part without wires into the wire it is dropped on, if two of its ports fit", () => {
  const port = (name: string, x: number, direction: string) => ({
    name, direction, domain: "signal", class: direction, extent: [x - 10, -10, x + 10, 10],
  }); // prettier-ignore
  const part = (name: string, x: number, ports: ReturnType<typeof port>[]) => ({
    name, port: null, rotation: 0, extent: [x - 20, -20, x + 20, 20], icon: { extent: [-100, -100, 100, 100], ports },
  }); // prettier-ignore
  const both = [port("u", -100, "in"), port("y", 100, "out")];
  const gain = part("gain", 100, both);
  const wire = { from: "one.y", to: "two.u", points: [[20, 0], [180, 0]] }; // prettier-ignore
  const sheetOf = (other: typeof gain, wires = [wire]) =>
    ({
      components: [part("one", 0, both), part("two", 200, both), other],
      connections: wires,
    }) as unknown as Sheet;
  const enters = (sheet: Sheet, dropped: typeof gain, y = 0) =>
    wireToEnter(sheet, dropped as unknown as SheetComponent, [80, y - 20, 120, y + 20]);
  expect(enters(sheetOf(gain), gain)).toEqual({ from: "one.y", to: "two.u" });
  expect(enters(sheetOf(gain), gain, 40)).toBeNull();
  const source = part("gain", 100, [port("y", 100, "out")]);
  expect(enters(sheetOf(source), source)).toBeNull();
  expect(enters(sheetOf(gain, [wire, { ...wire, from: "gain.y" }]), gain)).toBeNull();
});
