import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { codesFor, joinWords, readingFor, splitTexts, splitWords, withSetting, type Reading } from "./readings";

describe("splitWords", () => {
  it("reads lines of values and words, a value alone standing for itself", () => {
    expect(splitWords("A = active\n\nC= closed \nP\nX = a = b")).toEqual([
      { stored: "A", word: "active" },
      { stored: "C", word: "closed" },
      { stored: "P", word: "P" },
      { stored: "X", word: "a = b" },
    ]);
  });

  it("reads back what was written", () => {
    const text = fc.stringMatching(/^[A-Za-z0-9]{1,5}( [a-z]{1,4})?$/);
    fc.assert(
      fc.property(fc.array(fc.record({ stored: text, word: text })), (words) => {
        expect(splitWords(joinWords(words))).toEqual(words);
      }),
    );
  });
});

describe("splitTexts", () => {
  it("leaves out what is blank", () => {
    expect(splitTexts(" 0, 00000000 ,,")).toEqual(["0", "00000000"]);
  });
});

describe("readingFor", () => {
  const words: Reading = { kind: "words", words: [] };
  it("waits until enough is said", () => {
    expect(readingFor(words)).toBe(false);
    expect(readingFor(withSetting(words, "words", [{ stored: "A", word: "active" }]))).toBe(true);
    expect(readingFor({ kind: "yesNo", yes: "Y", no: "Y" })).toBe(false);
    expect(readingFor({ kind: "day", pattern: " " })).toBe(false);
    expect(readingFor({ kind: "since", unit: "days" })).toBe(true);
  });
});

describe("codesFor", () => {
  it("parts what several values are made of", () => {
    const list = { kind: "list", sign: ",", width: 0 } as Reading;
    expect(codesFor(list, ["DOG,SHORE", "WIFI, DOG"])).toEqual(["DOG", "SHORE", "WIFI"]);
    expect(codesFor({ ...list, sign: "", width: 2 }, ["ABCD", "AB"])).toEqual(["AB", "CD"]);
    expect(codesFor({ kind: "bits" }, ["7"])).toEqual(["1", "2", "4"]);
  });

  it("takes other values as they are", () => {
    expect(codesFor({ kind: "words" } as Reading, ["A", "B"])).toEqual(["A", "B"]);
  });
});
