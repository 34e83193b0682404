import { describe, expect, it } from "vitest";
import { enter, isTyped, newLine, readBlock, type EntryAct, type EntryLine } from "./entryLines";

const run = (acts: EntryAct[], from: EntryLine[] = [newLine("a")]) => acts.reduce(enter, from);
const texts = (lines: EntryLine[]) => lines.map((line) => ({ ...line.typed }));

describe("lines of an entry", () => {
  it("hold what was typed, and there is always an empty one to go on in", () => {
    const lines = run([
      { act: "type", id: "a", column: "x", text: "1" },
      { act: "next", newId: "b" },
      { act: "next", newId: "c" },
    ]);
    expect(texts(lines)).toEqual([{ x: "1" }, {}]);
    expect(lines.map(isTyped)).toEqual([true, false]);
  });

  it("lose an error where it is typed over, and keep the others", () => {
    const [line] = run([
      { act: "refused", id: "a", errors: { x: "wrong", y: "wrong", "": "all of it" } },
      { act: "type", id: "a", column: "x", text: "2" },
    ]);
    expect({ ...line?.errors }).toEqual({ y: "wrong" });
  });

  it("are filled to the right and downwards, past what is saved", () => {
    const lines = run([
      { act: "type", id: "a", column: "x", text: "old" },
      { act: "next", newId: "b" },
      { act: "saved", id: "b", saved: { key: "1", title: "One" } },
      {
        act: "fill",
        id: "a",
        columns: ["y", "z"],
        block: [["1", "2", "too far"], ["3"], ["4", ""]],
        newIds: ["n0", "n1", "n2"],
      },
    ]);
    expect(texts(lines)).toEqual([{ x: "old", y: "1", z: "2" }, {}, { y: "3" }, { y: "4", z: "" }]);
    expect(lines.map((line) => line.id)).toEqual(["a", "b", "n1", "n2"]);
  });

  it("take any column's name for a name", () => {
    const lines = run([{ act: "type", id: "a", column: "__proto__", text: "1" }]);
    expect(Object.entries(lines[0]?.typed ?? {})).toEqual([["__proto__", "1"]]);
  });
});

describe("a pasted block", () => {
  it("is rows of cells", () => {
    expect(readBlock("a\tb\r\nc\t\r\n")).toEqual([
      ["a", "b"],
      ["c", ""],
    ]);
    expect(readBlock("a\nb")).toEqual([["a"], ["b"]]);
    expect(readBlock("\tb")).toEqual([["", "b"]]);
  });

  it("may hold breaks and quotation marks", () => {
    expect(readBlock('"two\nlines"\t"say ""so"""\tx')).toEqual([["two\nlines", 'say "so"', "x"]]);
    expect(readBlock('12" pipe\t"open')).toEqual([['12" pipe', '"open']]);
  });

  it("is none where it is one text", () => {
    expect(readBlock("just a text")).toBeNull();
    expect(readBlock('a "quoted" word\n')).toBeNull();
    expect(readBlock("")).toBeNull();
  });
});
