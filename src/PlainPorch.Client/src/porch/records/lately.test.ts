// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from "vitest";
import { chosenLately, rememberChosen } from "./lately";

beforeEach(() => {
  localStorage.clear();
});

describe("chosenLately", () => {
  it("begins with what was chosen last, each once, and no more than five", () => {
    for (const value of ["1", "2", "3", "2", "4", "5", "6"]) rememberChosen("p", "boats", "owner", value);
    expect(chosenLately("p", "boats", "owner")).toEqual(["6", "5", "4", "2", "3"]);
    expect(chosenLately("p", "boats", "other")).toEqual([]);
  });

  it("takes what it cannot read for nothing", () => {
    localStorage.setItem("plain-porch lately p/boats/owner", "{");
    expect(chosenLately("p", "boats", "owner")).toEqual([]);
    localStorage.setItem("plain-porch lately p/boats/owner", '[1, "a"]');
    expect(chosenLately("p", "boats", "owner")).toEqual(["a"]);
  });
});
