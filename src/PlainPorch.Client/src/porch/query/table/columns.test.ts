import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Column, ListPage, Panel } from "../../../api/client";
import { defaultView } from "../../../api/listView";
import { addsUp, columnsOf, columnsText, isEditable, moved, shownColumns, textOf } from "./columns";

function column(name: string, part: Partial<Column> = {}): Column {
  return {
    name,
    kind: "text",
    inList: true,
    isLookup: false,
    isWritable: true,
    also: [] as string[],
    ...part,
  } as Column;
}

const panel = {
  identity: ["NO"],
  editsInList: true,
  columns: [column("NO", { kind: "integer" }), column("NAME"), column("NOTES", { inList: false })],
} as Panel;

const namesOf = (columns: Column[]) => columns.map(({ name }) => name);

describe("the columns of a list", () => {
  it("are the panel's own, or those chosen, in that order, as far as the panel has them", () => {
    expect(namesOf(shownColumns(panel, defaultView))).toEqual(["NO", "NAME"]);
    expect(namesOf(shownColumns(panel, { ...defaultView, columns: ["NOTES", "GONE", "NO"] }))).toEqual(["NOTES", "NO"]);
    expect(namesOf(shownColumns(panel, { ...defaultView, columns: ["GONE"] }))).toEqual(["NO", "NAME"]);
  });

  it("are shown once the page has brought them", () => {
    const page = { columns: ["NO", "NOTES"], rows: [{ values: ["1", null] }] } as unknown as ListPage;
    const view = { ...defaultView, columns: ["NOTES", "NAME", "NO"] };
    expect(namesOf(columnsOf(page, panel, view))).toEqual(["NOTES", "NO"]);
    const [row] = page.rows;
    if (!row) throw new Error("The page has no row.");
    expect([
      textOf(page, row, column("NO")),
      textOf(page, row, column("NOTES")),
      textOf(page, row, column("NAME")),
    ]).toEqual(["1", null, null]);
  });

  it("stand in the address only where they are not just the panel's own", () => {
    expect(columnsText(panel, ["NO", "NAME"])).toEqual([]);
    expect(columnsText(panel, ["NAME", "NO"])).toEqual(["NAME", "NO"]);
    expect(columnsText(panel, ["NO"])).toEqual(["NO"]);
  });
});

describe("moved", () => {
  it("puts one thing elsewhere and keeps the rest in order", () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat()),
        fc.integer({ min: -2, max: 12 }),
        fc.integer({ min: -2, max: 12 }),
        (items, from, to) => {
          const next = moved(items, from, to);
          const item = items[from];
          if (item === undefined || to < 0 || to >= items.length) expect(next).toEqual(items);
          else {
            expect(next[to]).toBe(item);
            expect(next.filter((one) => one !== item)).toEqual(items.filter((one) => one !== item));
          }
        },
      ),
    );
  });
});

describe("what can be done with a column", () => {
  it("adds up numbers, but for keys and references", () => {
    expect(addsUp(panel, column("LOA", { kind: "decimal" }))).toBe(true);
    expect(addsUp(panel, column("NO", { kind: "integer" }))).toBe(false);
    expect(addsUp(panel, column("OWNR_NO", { kind: "integer", isLookup: true }))).toBe(false);
  });

  it("changes cells where the panel allows it and the column can be written", () => {
    expect(isEditable(panel, column("NAME"))).toBe(true);
    expect(isEditable({ ...panel, editsInList: false }, column("NAME"))).toBe(false);
    expect(isEditable(panel, column("NAME", { isWritable: false }))).toBe(false);
    expect(isEditable(panel, column("PHOTO", { kind: "binary" }))).toBe(false);
  });
});
