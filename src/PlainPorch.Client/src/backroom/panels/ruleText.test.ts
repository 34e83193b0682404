import { describe, expect, it } from "vitest";
import { completionsAt, piecesOf, type Word } from "./ruleText";

const word = (name: string, says: string, within: Word[] = [], takesSeveral = false): Word => ({
  name,
  says,
  type: null,
  within,
  takesSeveral,
});

const words = {
  columns: [word("ARR_DT", "Arrival"), word("OWNR_NO", "Owner", [word("TOWN", "Town"), word('"E mail"', "E-mail")])],
  related: [word("stays", "Stays", [word("NIGHTS", "Nights")])],
  functions: [word("round", "Rounded", [], true)],
  given: [word("current_date", "")],
};

describe("piecesOf", () => {
  it("tells words apart, and leaves out no sign", () => {
    const text = "round(\"E mail\", 2) >= 1.5 and note = 'it''s'";
    expect(piecesOf(text).map(({ from, to, sort }) => `${text.slice(from, to)}:${sort}`)).toEqual([
      "round:function",
      "(:sign",
      '"E mail":name',
      ",:sign",
      "2:number",
      "):sign",
      ">:sign",
      "=:sign",
      "1.5:number",
      "and:keyword",
      "note:name",
      "=:sign",
      "'it''s':text",
    ]);
  });

  it("reads to the end what is never closed", () => {
    expect(piecesOf("a = 'open").at(-1)).toEqual({ from: 4, to: 9, sort: "text" });
  });
});

describe("completionsAt", () => {
  const names = (text: string) => completionsAt(text, text.length, words)?.words.map(({ name }) => name) ?? null;

  it("offers columns by name and by label", () => {
    expect(names("arr")).toEqual(["ARR_DT"]);
    expect(names("1 + own")).toEqual(["OWNR_NO"]);
    expect(names('"Arr')).toEqual(["ARR_DT"]);
  });

  it("follows lookups and related records", () => {
    expect(names("owner.")).toEqual(["TOWN", '"E mail"']);
    expect(names("OWNR_NO.to")).toEqual(["TOWN"]);
    expect(names("sum(stays.")).toEqual(["NIGHTS"]);
    expect(completionsAt("x + owner.to", 12, words)?.from).toBe(10);
  });

  it("offers nothing within a text, behind nothing, and on no way", () => {
    expect(names("'arr")).toBeNull();
    expect(names("1 + ")).toBeNull();
    expect(names("nobody.x")).toBeNull();
  });
});
