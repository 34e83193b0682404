import fc from "fast-check";
import { afterEach, describe, expect, it } from "vitest";
import { readNumber, writeNumber, writeNumbersAs, type NumberMarks } from "./numbers";

afterEach(() => {
  writeNumbersAs("commaPoint");
});

describe("readNumber", () => {
  it.each([
    ["1,258.22", "1258.22"],
    ["1 258,22", "1258.22"],
    ["1.258,22", "1258.22"],
    ["12,5", "12.5"],
    ["12,500", "12500"],
    ["12.500", "12.500"],
    ["€ 12.50", "12.50"],
    ["-1'000", "-1000"],
    ["1e5", "1e5"],
    ["1,2,3", "1,2,3"],
    ["1258,", "1258,"],
  ])("reads %s as %s", (typed, value) => {
    expect(readNumber(typed)).toBe(value);
  });

  it.each([
    ["1.258", "1258"],
    ["1.258,22", "1258.22"],
    ["1,258.22", "1258.22"],
    ["12.5", "12.5"],
    ["12,500", "12.500"],
    ["0,5 €", "0.5"],
  ])("reads %s as %s where the comma is the decimal mark", (typed, value) => {
    for (const marks of ["pointComma", "spaceComma"] as const) {
      writeNumbersAs(marks);
      expect(readNumber(typed)).toBe(value);
    }
  });
});

describe("writeNumber", () => {
  it.each([
    ["commaPoint", "-1,258.22"],
    ["pointComma", "-1.258,22"],
    ["spaceComma", "-1\u00a0258,22"],
  ] as const)("writes %s as %s", (marks, written) => {
    writeNumbersAs(marks);
    expect(writeNumber("-1258.22")).toBe(written);
    expect(writeNumber("NaN")).toBe("NaN");
  });

  it("is read again as what it was, whatever the marks", () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 40n), max: 10n ** 40n }),
        fc.stringMatching(/^(\.\d{1,20})?$/),
        fc.constantFrom<NumberMarks>("commaPoint", "pointComma", "spaceComma"),
        (whole, fraction, marks) => {
          writeNumbersAs(marks);
          expect(readNumber(writeNumber(`${whole}${fraction}`))).toBe(`${whole}${fraction}`);
        },
      ),
    );
  });
});
