import { expect, it } from "vitest";

import type { Schemas } from "../api/client";
import { groupedBy, orderOfPart } from "./part-draft";

const page = {
  variables: [
    { name: "rotor.J", name_in_class: "rotor_J", role: "parameter" },
    { name: "u", name_in_class: "u", role: "input" },
    { name: "heat", name_in_class: "heat", role: "" },
  ],
} as Schemas["ForeignUnitPage"];

it("sends only what differs from the usual", () => {
  const order = orderOfPart(
    {
      name: " Fan ",
      kind: "cs",
      step: "0.01",
      seen: { u: false, heat: true, "rotor.J": true },
      names: { "rotor.J": "inertia", u: "u" },
      groups: { u: " drive ", heat: "  " },
    },
    page,
  );
  expect(order).toEqual({
    name: "Fan",
    kind: "cs",
    step: 0.01,
    names: { "rotor.J": "inertia" },
    hidden: ["u"],
    shown: ["heat"],
    groups: { u: "drive" },
  });
});

it("brings ports, and nothing else, under headings", () => {
  const variable = (name: string, role: string, terminal: string, stem: string) =>
    ({ name, role, terminal, stem }) as Schemas["ForeignVariable"];
  const variables = [
    variable("rotor.u", "input", "shaft", "rotor"),
    variable("rotor.J", "parameter", "shaft", "rotor"),
    variable("heat", "output", "", ""),
  ];
  expect(groupedBy(variables, "terminal")).toEqual({ "rotor.u": "shaft" });
  expect(groupedBy(variables, "stem")).toEqual({ "rotor.u": "rotor" });
});
