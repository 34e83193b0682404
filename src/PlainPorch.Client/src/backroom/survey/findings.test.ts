import { describe, expect, it } from "vitest";
import { chosen, countsOf, everything, firstPart, idOf, subjectOf, type Finding } from "./findings";

function finding(table: string, columns: string[], confidence: number, part: Partial<Finding> = {}): Finding {
  return {
    subject: { sort: "reference", table: { schema: "register", name: table }, columns },
    says: `refers to OWNERS from ${columns.join()}`,
    evidence: "99 % found",
    confidence,
    isDeclared: false,
    verdict: null,
    support: "found",
    part: "found",
    trouble: null,
    ...part,
  } as Finding;
}

const boats = finding("BOATS", ["OWNR_NO"], 0.9);
const stays = finding("STAYS", ["BOAT_NO"], 0.55);
const rigs = finding("BOATS", ["RIG_CD"], 0.7, { isDeclared: true });
const gone = finding("STAYS", ["BERTH"], 0.1, { verdict: "right", support: "lost" });
const all = [rigs, stays, boats, gone];

const left = (filter: Partial<typeof everything>) => chosen(all, { ...everything, ...filter }).map(subjectOf);

describe("chosen", () => {
  it("shows first what somebody decided and the data no longer support, and last what the database declares", () => {
    expect(left({})).toEqual(["STAYS.BERTH", "BOATS.OWNR_NO", "STAYS.BOAT_NO", "BOATS.RIG_CD"]);
    expect(left({ order: "doubtful" })).toEqual(["STAYS.BERTH", "STAYS.BOAT_NO", "BOATS.OWNR_NO", "BOATS.RIG_CD"]);
    expect(left({ order: "table" })).toEqual(["STAYS.BERTH", "BOATS.OWNR_NO", "STAYS.BOAT_NO", "BOATS.RIG_CD"]);
  });

  it("leaves what every word is found in", () => {
    expect(left({ text: "owners ownr" })).toEqual(["BOATS.OWNR_NO"]);
    expect(left({ text: "stays" })).toEqual(["STAYS.BERTH", "STAYS.BOAT_NO"]);
    expect(left({ text: "nowhere" })).toEqual([]);
  });

  it("leaves those of a table, of a sort, or that are still open", () => {
    expect(left({ table: "register.BOATS" })).toEqual(["BOATS.OWNR_NO", "BOATS.RIG_CD"]);
    expect(left({ sort: "key" })).toEqual([]);
    expect(left({ isOpenOnly: true })).toEqual(["STAYS.BERTH", "BOATS.OWNR_NO", "STAYS.BOAT_NO"]);
  });
});

describe("what to look at first", () => {
  const unsure = finding("A", ["X"], 0.6, { part: "unsure" });
  const broken = finding("A", ["Y"], 0.9, { part: "broken", trouble: "orphans" });

  it("is what is unsure, then what is broken", () => {
    expect(firstPart([...all, broken, unsure])).toBe("unsure");
    expect(firstPart([...all, broken])).toBe("broken");
    expect(firstPart(all)).toBe("found");
    expect(firstPart([])).toBe("");
  });

  it("is counted by part and by trouble", () => {
    expect(Object.fromEntries(countsOf([...all, broken, unsure]))).toEqual({
      found: 4,
      broken: 1,
      orphans: 1,
      unsure: 1,
    });
    expect(chosen([...all, broken, unsure], { ...everything, part: "broken", trouble: "orphans" })).toEqual([broken]);
  });
});

describe("what a finding is about", () => {
  it("is told apart by sort, table and columns", () => {
    expect(new Set(all.map(idOf)).size).toBe(all.length);
    expect(idOf(finding("A", ["B", "C"], 1))).not.toBe(idOf(finding("A", ["B\u001fC", ""], 1)));
    expect(subjectOf(finding("BOATS", ["A", "B"], 1))).toBe("BOATS.A + B");
    expect(subjectOf(finding("BOATS", [], 1))).toBe("BOATS");
  });
});
