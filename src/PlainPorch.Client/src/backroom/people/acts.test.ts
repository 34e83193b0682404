import { describe, expect, it } from "vitest";
import { rightsOn, saysOn, saysUsually, slugOf, type Role } from "./acts";

const role = (part: Partial<Role>): Role => ({
  slug: "clerk",
  name: "Clerk",
  sees: true,
  may: ["add", "change"],
  managesPeople: false,
  person: null,
  panels: [],
  ...part,
});

const on = (part: Partial<Role["panels"][number]>): Role["panels"][number] => ({
  panel: "boats",
  sees: null,
  may: null,
  rows: null,
  columns: [],
  ...part,
});

describe("rights", () => {
  it("are the role's where nothing else is said", () => {
    expect(rightsOn(role({}), "boats")).toEqual(["add", "change"]);
    expect(rightsOn(role({ panels: [on({ panel: "stays", may: [] })] }), "boats")).toEqual(["add", "change"]);
  });

  it("are those of the exception", () => {
    expect(rightsOn(role({ panels: [on({ may: ["export"] })] }), "boats")).toEqual(["export"]);
    expect(rightsOn(role({ panels: [on({ may: ["all"] })] }), "boats")).toHaveLength(11);
    expect(rightsOn(role({ panels: [on({ sees: false })] }), "boats")).toBeNull();
    expect(rightsOn(role({ sees: false, panels: [on({ sees: true })] }), "boats")).toEqual(["add", "change"]);
    expect(rightsOn(role({ sees: false }), "boats")).toBeNull();
  });

  it("are told in words", () => {
    expect(saysOn(role({ may: [] }), "boats")).toEqual(["seen"]);
    expect(saysOn(role({ may: ["all"] }), "boats")).toEqual(["everything"]);
    expect(saysUsually(role({ sees: false, panels: [on({ sees: true })] }))).toBe("not seen");
    expect(saysUsually(role({}))).toBe("add, change");
    expect(
      saysOn(
        role({
          panels: [
            on({
              rows: "owner = current_person",
              columns: [
                { name: "PHONE", access: "masked", shows: 4 },
                { name: "NOTE", access: "hidden", shows: 4 },
              ],
            }),
          ],
        }),
        "boats",
      ),
    ).toEqual(["add, change", "only where owner = current_person", "hidden: NOTE", "masked: PHONE"]);
  });

  it("get a name for addresses", () => {
    expect(slugOf("Harbour Master", [])).toBe("harbour-master");
    expect(slugOf("Clerk", ["clerk", "clerk-2"])).toBe("clerk-3");
    expect(slugOf("Ж", [])).toBe("role");
  });
});
