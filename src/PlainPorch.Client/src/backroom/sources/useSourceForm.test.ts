// @vitest-environment happy-dom
import { describe, expect, it } from "vitest";
import type { SourceRequest } from "../../api/client";
import { requestOf } from "./useSourceForm";

const fields = { name: "Office", host: "localhost", port: 5432 } as SourceRequest;

describe("requestOf", () => {
  it("parts schemas at commas, whatever stands around them", () => {
    expect(requestOf(fields, "5432", " public, harbour ,,").schemas).toEqual(["public", "harbour"]);
    expect(requestOf(fields, "5432", "  ").schemas).toEqual([]);
  });

  it("sends a port that is no number as 0, for the server to refuse at its field", () => {
    expect(requestOf(fields, " 5433 ", "").port).toBe(5433);
    for (const port of ["", "x", "54a", "-1", "5432.5"]) expect(requestOf(fields, port, "").port).toBe(0);
  });
});
