import { describe, expect, it } from "vitest";
import type { Column } from "../../api/client";
import { changesOf, nothing, problemOf, proposal, recordsIn, seeable, type Part } from "./tidying";

const text = {
  name: "wood",
  label: "Wood",
  kind: "text",
  isNullable: true,
  enumValues: [],
  maxLength: 40,
} as unknown as Column;
const day = { ...text, kind: "date", isRead: true } as unknown as Column;

const oak: Part = {
  id: "oak",
  spellings: [
    { value: "Oak", count: 10 },
    { value: "OAK", count: 3 },
    { value: "oak ", count: 1 },
  ],
  wish: { ...nothing, typed: "Oak" },
};

describe("changesOf", () => {
  it("takes all spellings of a group but the one that it becomes", () => {
    const changes = changesOf(text, [oak]);
    expect(changes).toEqual([
      { from: "OAK", to: "Oak", count: 3 },
      { from: "oak ", to: "Oak", count: 1 },
    ]);
    expect(recordsIn(changes)).toBe(4);
  });

  it("leaves out what is not ticked", () => {
    expect(changesOf(text, [{ ...oak, wish: { ...oak.wish, left: ["OAK"] } }]).map((change) => change.from)).toEqual([
      "oak ",
    ]);
    expect(changesOf(text, [{ ...oak, wish: { ...oak.wish, isOn: false } }])).toEqual([]);
  });

  it("changes nothing as long as nothing was typed, and empties only where that was ticked", () => {
    expect(changesOf(text, [{ ...oak, wish: nothing }])).toEqual([]);
    expect(changesOf(text, [{ ...oak, wish: { ...nothing, empties: true } }]).map((change) => change.to)).toEqual([
      null,
      null,
      null,
    ]);
  });

  it("reads what was typed as the column means it, and says what it cannot read", () => {
    const part = { ...oak, wish: { ...nothing, typed: "3 Oct 2011" } };
    expect(changesOf(day, [part])[0]?.to).toBe("2011-10-03");
    const wrong = { ...oak, wish: { ...nothing, typed: "31/2/2011" } };
    expect(changesOf(day, [wrong])).toEqual([]);
    expect(problemOf(day, wrong.wish)).toMatch(/no such date/);
  });
});

describe("proposal", () => {
  it("ticks what is nearly certain, and nothing of what does not fit", () => {
    const group = {
      by: "signs" as const,
      spellings: [
        { value: " Oak", count: 2 },
        { value: "OAK", count: 1 },
      ],
    };
    expect(proposal(group, false)).toMatchObject({ typed: "Oak", isOn: true });
    expect(proposal({ ...group, by: "letters" }, false).isOn).toBe(false);
    expect(proposal(group, true)).toMatchObject({ typed: "", isOn: false });
  });
});

describe("seeable", () => {
  it("shows what cannot be seen", () => {
    expect(seeable("  Oak ")).toBe("␣␣Oak␣");
    expect(seeable("Old  oak")).toBe("Old ␣oak");
    expect(seeable("Oak\n\t")).toBe("Oak↵⇥");
  });
});
