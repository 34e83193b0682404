import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Column } from "../api/client";
import { alignsRight, formatSize, formatValue, readArray } from "./format";
import { writeNumber } from "./numbers";

const value = (kind: Column["kind"], text: string | null) => formatValue({ kind }, text);

describe("formatValue", () => {
  it("shows nothing for an empty value of any kind", () => {
    for (const kind of ["text", "integer", "date", "boolean", "array", "binary"] as const)
      expect(value(kind, null)).toBe("");
  });

  it.each([
    ["boolean", "true", "Yes"],
    ["boolean", "false", "No"],
    ["time", "10:30:00", "10:30"],
    ["date", "2026-03-31", "31/03/2026"],
    ["dateTime", "2026-03-31T14:30:05", "31/03/2026 14:30"],
    ["date", "0001-01-01", "0001-01-01"],
    ["date", "0044-03-15 BC", "0044-03-15 BC"],
    ["date", "200000-01-01", "200000-01-01"],
    ["dateTime", "0044-03-15T12:00:00", "0044-03-15T12:00:00"],
    ["instant", "0044-03-15T12:00:00Z BC", "0044-03-15T12:00:00Z BC"],
    ["time", "10:30:15", "10:30:15"],
    ["integer", "1234567", "1234567"],
    ["decimal", "1234567.50", "1,234,567.50"],
    ["decimal", "-999.5", "-999.5"],
    ["decimal", "NaN", "NaN"],
    ["array", '["a","b",null]', "a, b, (empty)"],
    ["array", '[["a"],["b"]]', '[["a"],["b"]]'],
    ["binary", "1500", "1.5 kB"],
    ["text", " as it is ", " as it is "],
  ] as const)("shows %s %s as %s", (kind, text, shown) => {
    expect(value(kind, text)).toBe(shown);
  });

  it.each([
    ["date", "infinity"],
    ["date", "20215-01-31"],
    ["dateTime", "-infinity"],
    ["instant", "20215-01-31T10:00:00Z"],
  ] as const)("shows a %s that no calendar of the browser holds as it is: %s", (kind, text) => {
    expect(value(kind, text)).toBe(text);
  });

  it("keeps every digit of a long number", () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 40n), max: 10n ** 40n }),
        fc.stringMatching(/^(\.\d{1,20})?$/),
        (whole, fraction) => {
          expect(writeNumber(`${whole}${fraction}`).replaceAll(",", "")).toBe(`${whole}${fraction}`);
        },
      ),
    );
  });
});

describe("formatSize", () => {
  it.each([
    [0, "0 bytes"],
    [999, "999 bytes"],
    [1000, "1.0 kB"],
    [2_500_000, "2.5 MB"],
  ])("tells %d bytes as %s", (bytes, text) => {
    expect(formatSize(bytes)).toBe(text);
  });
});

describe("readArray", () => {
  it("reads back what was written, and nothing else", () => {
    fc.assert(
      fc.property(fc.array(fc.option(fc.string())), (items) => {
        expect(readArray(JSON.stringify(items))).toEqual(items);
      }),
    );
    for (const other of ["", "{a,b}", "[1]", '{"a":1}', '[["a"]]']) expect(readArray(other)).toBeNull();
  });
});

describe("alignsRight", () => {
  it("puts numbers to the right, and the titles that stand for them not", () => {
    expect(alignsRight({ kind: "integer", isLookup: false })).toBe(true);
    expect(alignsRight({ kind: "integer", isLookup: true })).toBe(false);
    expect(alignsRight({ kind: "text", isLookup: false })).toBe(false);
  });
});

describe("formatValue of what is read", () => {
  it.each([
    [{ kind: "date", isRead: true }, "infinity", "no end"],
    [{ kind: "date", look: { as: "month", unit: null, unitFirst: false } }, "2011-10-01", "10/2011"],
    [{ kind: "decimal", look: { as: "amount", unit: "€", unitFirst: true } }, "1258.20", "€1,258.20"],
    [{ kind: "integer", look: { as: "amount", unit: "m", unitFirst: false } }, "12", "12\u00a0m"],
    [{ kind: "decimal", look: { as: "amount", unit: "£", unitFirst: true } }, "-5.00", "-£5.00"],
    [{ kind: "decimal", look: { as: "amount", unit: "m", unitFirst: false } }, "12x", "12x"],
    [{ kind: "boolean" }, "Q", "Q"],
    [{ kind: "duration" }, "1:30", "1:30"],
  ] as const)("says what it means: %o %s", (column, text, shown) => {
    expect(formatValue(column, text)).toBe(shown);
  });
});
