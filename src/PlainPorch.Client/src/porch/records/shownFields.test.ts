import { describe, expect, it } from "vitest";
import type { Column } from "../../api/client";
import { hiddenFields } from "./shownFields";

const column = (name: string, on?: string, oneOf: string[] = []) =>
  ({ name, shownWhen: on === undefined ? null : { column: on, oneOf } }) as Column;

const hidden = (columns: Column[], values: Record<string, string | null>) =>
  [...hiddenFields(columns, (name) => values[name] ?? null)].sort();

describe("hiddenFields", () => {
  it("hides what hangs on a value that another field does not have", () => {
    const columns = [column("paid"), column("way", "paid", ["true"]), column("note")];
    expect(hidden(columns, { paid: "false" })).toEqual(["way"]);
    expect(hidden(columns, { paid: null })).toEqual(["way"]);
    expect(hidden(columns, { paid: "true" })).toEqual([]);
  });

  it("hides what hangs on any value where there is none", () => {
    const columns = [column("name"), column("mark", "name")];
    expect(hidden(columns, { name: " " })).toEqual(["mark"]);
    expect(hidden(columns, { name: "Wren" })).toEqual([]);
  });

  it("hides what hangs on a hidden field, whatever that holds", () => {
    const columns = [column("a"), column("b", "a"), column("c", "b")];
    expect(hidden(columns, { a: null, b: "still stored", c: "x" })).toEqual(["b", "c"]);
  });

  it("shows what goes round in a circle rather than losing it", () => {
    expect(hidden([column("a", "b"), column("b", "a")], { a: "1", b: "1" })).toEqual([]);
  });

  it("asks for values of columns that the form does not have, too", () => {
    expect(hidden([column("a", "elsewhere", ["x"])], { elsewhere: "x" })).toEqual([]);
  });
});
