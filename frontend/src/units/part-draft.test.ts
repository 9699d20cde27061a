import { expect, it } from "vitest";

import type { Schemas } from "../api/client";
import { orderOfPart } from "./part-draft";

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
  });
});
