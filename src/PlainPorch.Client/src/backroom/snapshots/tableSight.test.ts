import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { choicesOf, everyTable, isWithin } from "./tableSight";

const table = (part: Partial<Schemas["TableSummary"]>) =>
  ({ group: null, shape: null, rows: null, estimatedRows: null, ...part }) as Schemas["TableSummary"];

const boats = table({ group: "Boats", shape: "main", rows: 12 });
const empty = table({ group: "", shape: "join", rows: 0, estimatedRows: 5 });
const unread = table({ estimatedRows: 0 });

describe("which tables are looked at", () => {
  it("is said by group, shape and rows", () => {
    const left = (part: Partial<typeof everyTable>) =>
      [boats, empty, unread].filter((one) => isWithin(one, { ...everyTable, ...part }));
    expect(left({})).toEqual([boats, empty, unread]);
    expect(left({ group: "Boats" })).toEqual([boats]);
    expect(left({ shape: "join" })).toEqual([empty]);
    expect(left({ rows: "some" })).toEqual([boats]);
    expect(left({ rows: "none" })).toEqual([empty, unread]);
  });

  it("is chosen among what there is", () => {
    expect(choicesOf([boats, empty, unread, boats])).toEqual({ groups: ["Boats"], shapes: ["main", "join"] });
  });
});
