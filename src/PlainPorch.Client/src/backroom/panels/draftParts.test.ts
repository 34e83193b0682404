import { describe, expect, it } from "vitest";
import type { PanelDefinition } from "../../api/client";
import { partOf, saidOf } from "./draftParts";

const definition = { columns: [{ name: "a.b", label: "Owner" }] } as unknown as PanelDefinition;

describe("a part of a panel", () => {
  it("is called as its developer sees it, whatever a column is called", () => {
    expect(partOf("title", definition)).toBe("Title of a record");
    expect(partOf("columns.a.b.inList", definition)).toBe("Owner: in the list");
    expect(partOf("columns.gone.label", definition)).toBe("gone: label");
  });

  it("is told in a few words", () => {
    expect(saidOf(null)).toBe("nothing");
    expect(saidOf(true)).toBe("yes");
    expect(saidOf({ table: { schema: "public", name: "owners" }, key: "id", conversion: "none", title: null })).toBe(
      "public.owners, key id",
    );
    expect(saidOf([])).toBe("nothing");
  });
});
