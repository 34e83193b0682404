import { describe, expect, it } from "vitest";
import { computedName, labelOf } from "./computedName";

describe("the name of a computed column", () => {
  it.each([
    ["Nights", [], "nights"],
    ["Price per night (€)", [], "price_per_night"],
    ["2nd owner", [], "computed_2nd_owner"],
    ["€", [], "computed"],
    ["Größe", ["größe", "GRÖSSE"], "größe_2"],
    ["Nights", ["NIGHTS", "nights_2"], "nights_3"],
  ])("of %s beside %j is %s", (label, others, name) => {
    expect(computedName(label, others)).toBe(name);
  });
});

describe("the label of what code computes", () => {
  it.each([
    ["high_water", "High water"],
    ["HighWater", "High water"],
    ["tide", "Tide"],
    ["_", "_"],
  ])("of %s is %s", (name, label) => {
    expect(labelOf(name)).toBe(label);
  });
});
