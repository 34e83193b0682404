import { describe, expect, it } from "vitest";
import { bareAll, bareOf, bareWith } from "./bare";

const odd = ["constructor", "toString", "valueOf", "__proto__", "hasOwnProperty"];

describe("names from a database", () => {
  it("are not there where they are not", () => {
    const values = bareAll(JSON.parse('{"values":{"name":"Marigold"}}') as { values: Record<string, string> }).values;
    for (const name of odd) expect([name, values[name], name in values]).toEqual([name, undefined, false]);
  });

  it("are there where they are, and travel as JSON", () => {
    const text = '{"constructor":"a","toString":"b","__proto__":"c"}';
    const values = bareAll(JSON.parse(text) as Record<string, string>);
    expect(["constructor", "toString", "__proto__"].map((name) => values[name])).toEqual(["a", "b", "c"]);
    expect(JSON.stringify(values)).toBe(text);
  });

  it("are made and changed one by one", () => {
    let values = bareOf<string>([["__proto__", "x"]]);
    for (const name of odd) values = bareWith(values, name, name);
    expect(Object.keys(values).sort()).toEqual([...odd].sort());
    expect(values["__proto__"]).toBe("__proto__");
    expect(JSON.parse(JSON.stringify(values))).toHaveProperty("valueOf", "valueOf");
  });

  it("are left alone inside of lists of texts", () => {
    expect(bareAll([["a", null], 1, true, null])).toEqual([["a", null], 1, true, null]);
  });
});
