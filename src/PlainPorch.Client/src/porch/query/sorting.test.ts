import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { pressed, readSort, sortedBy, sortText, writeSort } from "./sorting";

describe("a part of an order", () => {
  it("comes back from how it travels, whatever the column is called", () => {
    fc.assert(
      fc.property(
        fc.record({
          column: fc.string({ minLength: 1, unit: "grapheme" }),
          descending: fc.boolean(),
          natural: fc.boolean(),
          emptyFirst: fc.boolean(),
        }),
        (part) => {
          expect(readSort(writeSort(part))).toEqual(part);
          expect(sortedBy([writeSort(part)], part.column)).toEqual({ place: 0, descending: part.descending });
        },
      ),
    );
  });
});

describe("a column's name", () => {
  it.each(["-NAME", "NAME:natural", "Länge %", "a b", "--"])("is told from what else a part says: %s", (column) => {
    for (const descending of [false, true]) {
      expect(readSort(sortText(column, descending))).toMatchObject({ column, descending, natural: false });
      expect(sortedBy([sortText(column, descending)], column)).toEqual({ place: 0, descending });
    }
  });
});

describe("pressing a column's head", () => {
  it("goes up, down, and back to the panel’s default order", () => {
    const up = pressed([], "NAME", false);
    const down = pressed(up, "NAME", false);
    expect([up, down, pressed(down, "NAME", false)]).toEqual([["NAME"], ["-NAME"], []]);
  });

  it("takes the place of the others, or stands beside them", () => {
    expect(pressed(["-RIG"], "NAME", false)).toEqual(["NAME"]);
    expect(pressed(["-RIG"], "NAME", true)).toEqual(["-RIG", "NAME"]);
    expect(pressed(["-RIG", "NAME", "LOA"], "NAME", true)).toEqual(["-RIG", "-NAME", "LOA"]);
    expect(pressed(["-RIG", "-NAME", "LOA"], "NAME", true)).toEqual(["-RIG", "LOA"]);
  });

  it("knows a column by its whole name", () => {
    expect(sortedBy([sortText("NAME OF IT", true)], "NAME")).toBeNull();
    expect(sortedBy(["-NAME:natural"], "NAME")).toEqual({ place: 0, descending: true });
  });
});
