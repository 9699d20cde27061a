import { readdirSync, readFileSync } from "node:fs";
import { dirname, join, normalize, relative } from "node:path";

import { describe, expect, it } from "vitest";

/** The folders from the ground up; each imports only from those before it, and from itself. */
const FLOORS = [
  ["api"],
  ["state"],
  ["ui", "description"],
  ["charts", "drawing", "equations", "runs", "scenarios", "text"],
  [
    "component",
    "disk",
    "figures",
    "history",
    "ledger",
    "reference",
    "report",
    "start",
    "sweeps",
    "symbol",
    "units",
  ],
  ["recorder", "shelf", "rig", "board", "analyses"],
  ["sheet"],
  ["workspace"],
];
const SOURCE = import.meta.dirname;
const floorOf = (folder: string) => FLOORS.findIndex((floor) => floor.includes(folder));

/** The imports of a file of ours that lead to another folder than its own, as names of folders. */
function foldersOf(file: string, text: string): string[] {
  const specs = [...text.matchAll(/(?:from|import\() ?"(\.[^"]+)"/g)].map((match) => match[1]!);
  const own = file.split("/")[0]!;
  return specs
    .map((spec) => normalize(join(dirname(file), spec)).split("/"))
    .filter((parts) => parts.length > 1 && parts[0] !== own)
    .map((parts) => parts[0]!);
}

describe("floors", () => {
  const files = readdirSync(SOURCE, { recursive: true, encoding: "utf8" }).filter(
    (name) => /\.tsx?$/.test(name) && name.includes("/"),
  );

  it.each(files)("%s imports downwards only", (name) => {
    const file = relative(".", name);
    const floor = floorOf(file.split("/")[0]!);
    expect(floor, "a new folder needs its floor").toBeGreaterThanOrEqual(0);
    for (const folder of foldersOf(file, readFileSync(join(SOURCE, file), "utf8")))
      expect(floorOf(folder), folder).toBeLessThan(floor);
  });

  it("sees a wrong import", () => {
    expect(
      foldersOf("ui/wrong.ts", 'import { x } from "../sheet/wire";\nimport { y } from "./right";'),
    ).toEqual(["sheet"]);
  });
});
