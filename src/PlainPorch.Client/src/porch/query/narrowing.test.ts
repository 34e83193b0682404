import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { defaultView } from "../../api/listView";
import { narrowedTo, narrowingText, rangeText, readRange, toggled, without } from "./narrowing";

const name = fc.string({ minLength: 1, unit: "grapheme" });
const value = fc.option(fc.string());

describe("narrowing to a value", () => {
  it("is read back, and taken off by the same", () => {
    fc.assert(
      fc.property(name, value, name, value, (column, one, other, another) => {
        fc.pre(column !== other);
        const view = { ...defaultView, narrowed: [narrowingText(other, another)] };
        const narrowed = { ...view, narrowed: toggled(view, column, one) };
        expect(narrowedTo(narrowed, column)).toEqual([one]);
        expect(toggled(narrowed, column, one)).toEqual(view.narrowed);
        expect(without(narrowed, column)).toEqual(view.narrowed);
      }),
    );
  });

  it("tells the empty values from the empty text", () => {
    expect(narrowingText("RIG", null)).not.toBe(narrowingText("RIG", ""));
  });
});

describe("a range", () => {
  it.each([
    ["5", "10"],
    ["5", null],
    [null, "10"],
    [null, null],
    ["-5.5", "2020-01-01"],
  ])("from %j until %j is read back", (from, until) => {
    expect(readRange(rangeText(from, until))).toEqual({ from, until });
  });

  it("is no single value", () => {
    expect(readRange("sloop")).toBeNull();
  });
});
