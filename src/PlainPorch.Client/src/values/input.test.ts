import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Column } from "../api/client";
import { fromInput, inputKind, readCount, toInput } from "./input";

function column(kind: Column["kind"], part: Partial<Column> = {}): Column {
  return { name: "C", label: "C", kind, isNullable: true, maxLength: 40, ...part } as Column;
}

describe("inputKind", () => {
  it.each([
    [column("text"), "short", "line"],
    [column("text"), "two\nlines", "paragraph"],
    [column("text", { maxLength: null }), "", "paragraph"],
    [column("text", { maxLength: 121 }), null, "paragraph"],
    [column("bigInteger"), "1", "number"],
    [column("boolean"), "true", "yesNo"],
    [column("date"), "2020-02-29", "date"],
    [column("date"), "infinity", "line"],
    [column("dateTime"), "2020-02-29T10:00:00.123", "line"],
    [column("date"), "0044-03-15 BC", "line"],
    [column("date"), "200000-01-01", "line"],
    [column("date"), "9999-12-31", "date"],
    [column("instant"), "2020-02-29T10:00:00Z", "moment"],
    [column("instant"), "2020-02-29T10:00:00.000Z", "moment"],
    [column("instant"), "2020-02-29T10:00:00.5Z", "line"],
    [column("instant"), "0001-01-01T00:00:00Z", "line"],
    [column("instant"), "9999-12-31T23:59:59Z", "line"],
    [column("instant"), "0044-03-15T12:00:00Z BC", "line"],
    [column("instant"), "infinity", "line"],
    [column("time"), "24:00:00", "line"],
    [column("array"), "{{1,2},{3,4}}", "json"],
    [column("time"), "10:00", "time"],
    [column("array"), '["a"]', "lines"],
    [column("array"), '["a",null]', "json"],
    [column("array"), '["two\\nlines"]', "json"],
    [column("binary"), "12", "shown"],
  ] as const)("fits the value so that nothing of it is lost", (about, text, kind) => {
    expect(inputKind(about, text)).toBe(kind);
  });
});

describe("fromInput", () => {
  it("gives back what toInput showed, for every value that its input can hold", () => {
    const texts = fc.oneof(
      fc.tuple(fc.constant(column("text")), fc.string({ minLength: 1 })),
      fc.tuple(fc.constant(column("integer")), fc.integer().map(String)),
      fc.tuple(
        fc.constant(column("array")),
        fc.array(fc.string({ minLength: 1 }), { minLength: 1 }).map((items) => JSON.stringify(items)),
      ),
    );
    fc.assert(
      fc.property(texts, ([about, text]) => {
        const kind = inputKind(about, text);
        expect(fromInput(about, kind, toInput(kind, text))).toBe(text);
      }),
    );
  });

  it("keeps a moment to the second, whatever the reader's clock says", () => {
    const about = column("instant");
    expect(fromInput(about, "moment", toInput("moment", "2020-07-15T22:30:05.000Z"))).toBe("2020-07-15T22:30:05.000Z");
  });

  it("reads dates, times and numbers as people write them", () => {
    expect(fromInput(column("date"), "date", "31/3/2026")).toBe("2026-03-31");
    expect(fromInput(column("dateTime"), "dateTime", "31/3/2026 9:05")).toBe("2026-03-31T09:05:00");
    expect(fromInput(column("time"), "time", "930")).toBe("09:30:00");
    expect(fromInput(column("decimal"), "decimal", "1,258.22")).toBe("1258.22");
    expect(fromInput(column("integer"), "number", "45 000")).toBe("45000");
    const amount = { ...column("decimal"), look: { as: "amount" as const, unit: "m", unitFirst: false } };
    expect(fromInput(amount, "decimal", "1,258.5 m")).toBe("1258.5");
  });

  it("leaves what it cannot read as it was typed, for the server to say what is wrong", () => {
    expect(fromInput(column("date"), "date", "30/2/2026")).toBe("30/2/2026");
    expect(fromInput(column("instant"), "moment", "soon")).toBe("soon");
    expect(fromInput(column("decimal"), "decimal", "about 5")).toBe("about 5");
  });

  it("takes an emptied input for no value, and for an empty text where one has to be there", () => {
    expect(fromInput(column("text"), "line", "")).toBeNull();
    expect(fromInput(column("text", { isNullable: false }), "line", "")).toBe("");
    expect(fromInput(column("integer", { isNullable: false }), "number", "")).toBeNull();
    expect(fromInput(column("array"), "lines", "\n")).toBeNull();
    expect(fromInput(column("array", { isNullable: false }), "lines", "")).toBe("[]");
  });
});

describe("readCount", () => {
  it.each([
    ["12430", 12_430],
    ["12 430", 12_430],
    ["12,430", 12_430],
    ["12.430", 12_430],
    ["12\u202f430", 12_430],
    ["0", 0],
    ["", null],
    ["-3", null],
    ["all", null],
    ["1234567890", null],
  ])("reads %j as %j", (text, count) => {
    expect(readCount(text)).toBe(count);
  });
});
