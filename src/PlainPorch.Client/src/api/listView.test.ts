import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  changeView,
  defaultView,
  filterOf,
  isRestricted,
  queryOf,
  viewFromParams,
  viewToParams,
  type ListView,
} from "./listView";

const word = fc.string({ minLength: 1, maxLength: 12 });
const anyView: fc.Arbitrary<ListView> = fc.record({
  search: fc.string(),
  where: fc.string(),
  sort: fc.array(word, { maxLength: 3 }),
  size: fc.integer({ min: 1, max: 500 }),
  page: fc.integer({ min: 0, max: 90_000 }),
  at: fc.string(),
  of: fc.constant(""),
  value: fc.constant(""),
  narrowed: fc.array(word, { maxLength: 3 }),
  unfit: fc.array(word, { maxLength: 2 }),
  breaks: fc.string(),
  columns: fc.array(word, { maxLength: 3 }),
});

describe("a list's address", () => {
  it("says everything that the list shows", () => {
    fc.assert(
      fc.property(anyView, (view) => {
        expect(viewFromParams(new URLSearchParams(viewToParams(view).toString()))).toEqual(view);
      }),
    );
  });

  it("is empty for the list as it opens", () => {
    expect(viewToParams(defaultView).toString()).toBe("");
  });

  it("keeps the record that others refer to, even where its value is empty", () => {
    const view = { ...defaultView, of: "OWNR_NO", value: "" };
    expect(viewFromParams(viewToParams(view))).toEqual(view);
    expect(filterOf(view)).toMatchObject({ of: "OWNR_NO", value: "" });
    expect(filterOf({ ...defaultView, value: "7" }).value).toBeUndefined();
  });

  it.each(["-1", "1e9", "x", "", "123456789"])("takes the usual number where %j is no number", (text) => {
    const view = viewFromParams(new URLSearchParams({ size: text, page: text }));
    expect([view.size, view.page]).toEqual([defaultView.size, 1]);
  });
});

describe("changeView", () => {
  it("begins at the first page again, unless a page is turned", () => {
    const deep = { ...defaultView, page: 7, at: "mark" };
    expect(changeView(deep, { search: "gull" })).toMatchObject({ search: "gull", page: 1, at: "" });
    expect(changeView(deep, { page: 8, at: "next" })).toMatchObject({ page: 8, at: "next" });
  });
});

describe("queryOf", () => {
  it("asks for no page where a place was gone to", () => {
    expect(queryOf({ ...defaultView, page: 0, at: "mark" })).toMatchObject({ page: undefined, at: "mark" });
    expect(queryOf(defaultView)).toMatchObject({ page: "1", size: "50", at: undefined, aside: undefined });
    expect(queryOf({ ...defaultView, isAside: true }).aside).toBe("true");
  });
});

describe("isRestricted", () => {
  it("holds for whatever a reader can take off, and not for order or page", () => {
    for (const part of [
      { search: "a" },
      { where: "{}" },
      { of: "A" },
      { narrowed: ["A:1"] },
      { unfit: ["A"] },
      { breaks: "A" },
    ])
      expect(isRestricted({ ...defaultView, ...part })).toBe(true);
    expect(isRestricted({ ...defaultView, sort: ["A"], page: 3, columns: ["A"] })).toBe(false);
  });
});
