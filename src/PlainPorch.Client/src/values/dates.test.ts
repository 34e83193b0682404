import fc from "fast-check";
import { afterEach, describe, expect, it } from "vitest";
import {
  sayHowDaysAreTyped,
  readDay,
  readMoment,
  readTime,
  writeDatesAs,
  readMonth,
  writeMonth,
  writeDay,
  writeMoment,
  writeTime,
} from "./dates";

const today = new Date(2026, 10, 27);

afterEach(() => {
  writeDatesAs("dayMonthYear");
});

describe("readDay", () => {
  it.each([
    ["31/3/2026", "2026-03-31"],
    ["31.03.26", "2026-03-31"],
    ["31-3-1999", "1999-03-31"],
    ["31 3 2026", "2026-03-31"],
    ["310326", "2026-03-31"],
    ["31032026", "2026-03-31"],
    ["31/3", "2026-03-31"],
    ["2026-03-31", "2026-03-31"],
    ["31 March 2026", "2026-03-31"],
    ["31 mar", "2026-03-31"],
    ["March 31, 2026", "2026-03-31"],
    [" today ", "2026-11-27"],
    ["03/31/2026", "2026-03-31"],
    ["1/2/45", "2045-02-01"],
    ["1/2/46", "1946-02-01"],
    ["29/2/2024", "2024-02-29"],
  ])("reads %s", (text, iso) => {
    expect(readDay(text, today)).toBe(iso);
  });

  it.each([
    "30/2/2026",
    "29/2/2026",
    "31/13/2026",
    "0/1/2026",
    "31/3/202",
    "tomorrow",
    "31 xyz 2026",
    "",
    "12",
    "1/2/3/4",
  ])("does not take %j for a day", (text) => {
    expect(readDay(text, today)).toBeNull();
  });

  it("reads the month first where a porch writes it first", () => {
    writeDatesAs("monthDayYear");
    expect(readDay("3/4/2026", today)).toBe("2026-03-04");
    expect(writeDay("2026-03-04")).toBe("03/04/2026");
    expect(sayHowDaysAreTyped()).toBe("month/day/year, such as 03/31/2026");
  });

  it("reads what it wrote, in either order", () => {
    const days = fc.date({ min: new Date("1000-01-01"), max: new Date("9999-12-31"), noInvalidDate: true });
    fc.assert(
      fc.property(days, fc.constantFrom("dayMonthYear" as const, "monthDayYear" as const), (day, order) => {
        writeDatesAs(order);
        const iso = day.toISOString().slice(0, 10);
        expect(readDay(writeDay(iso), today)).toBe(iso);
        const moment = day.toISOString().slice(0, 19);
        expect(readMoment(writeMoment(moment), today)).toBe(moment);
      }),
    );
  });
});

describe("readTime", () => {
  it.each([
    ["14:30", "14:30:00"],
    ["1430", "14:30:00"],
    ["14.30", "14:30:00"],
    ["2:30 pm", "14:30:00"],
    ["12 am", "00:00:00"],
    ["12:05pm", "12:05:00"],
    ["9:05:07", "09:05:07"],
  ])("reads %s", (text, time) => {
    expect(readTime(text)).toBe(time);
  });

  it.each(["25:00", "14:60", "13 pm", "14", "noon", "24:00"])("does not take %s for a time of day", (text) => {
    expect(readTime(text)).toBeNull();
  });
});

describe("readMoment", () => {
  it.each([
    ["31/3/2026 14:30", "2026-03-31T14:30:00"],
    ["31/3/2026, 2:30 pm", "2026-03-31T14:30:00"],
    ["2026-03-31T14:30:05", "2026-03-31T14:30:05"],
    ["31/3/2026", "2026-03-31T00:00:00"],
    ["31 March 2026 0930", "2026-03-31T09:30:00"],
    ["31 3 2026 9:05", "2026-03-31T09:05:00"],
  ])("reads %s", (text, iso) => {
    expect(readMoment(text, today)).toBe(iso);
  });

  it.each(["30/2/2026 10:00", "31/3/2026 25:00", "soon"])("does not take %s for a moment", (text) => {
    expect(readMoment(text, today)).toBeNull();
  });
});

describe("writing", () => {
  it("leaves out seconds that are none, and days that are in no calendar of figures", () => {
    expect(writeTime("14:30:00")).toBe("14:30");
    expect(writeTime("14:30:05")).toBe("14:30:05");
    expect(writeMoment("2026-03-31T14:30:00")).toBe("31/03/2026 14:30");
    expect(writeDay("0044-03-15 BC")).toBe("0044-03-15 BC");
    expect(writeDay("infinity")).toBe("infinity");
  });
});

describe("readMonth", () => {
  it.each([
    ["10/2011", "2011-10-01"],
    ["2011-10", "2011-10-01"],
    ["201110", "2011-10-01"],
    ["October 2011", "2011-10-01"],
    ["oct 11", "2011-10-01"],
    ["3/10/2011", "2011-10-01"],
    ["13/2011", null],
    ["sometime", null],
  ])("reads %s", (typed, month) => {
    expect(readMonth(typed)).toBe(month);
    if (month !== null) expect(readMonth(writeMonth(month))).toBe(month);
  });
});
