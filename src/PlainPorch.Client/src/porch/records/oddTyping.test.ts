import { describe, expect, it } from "vitest";
import type { Column } from "../../api/client";
import { oddTyping } from "./oddTyping";

const email = { input: "email", kind: "text" } as Column;
const page = { input: "webAddress", kind: "text" } as Column;
const telephone = { input: "telephone", kind: "text" } as Column;
const json = { input: null, kind: "json" } as Column;

describe("oddTyping", () => {
  it.each(["office@example.org", " a.b+c@sub.example.co ", ""])("takes %o as an e-mail address", (text) => {
    expect(oddTyping(email, "line", text)).toBeNull();
  });

  it.each(["office", "office@", "@example.org", "a b@example.org", "office@example"])("points out %o", (text) => {
    expect(oddTyping(email, "line", text)).toContain("e-mail");
  });

  it.each(["https://example.org/a?b=1", "www.example.org", "example.org/x"])("takes %o as a page", (text) => {
    expect(oddTyping(page, "line", text)).toBeNull();
  });

  it.each(["javascript:alert(1)", "nowhere", "two words.org"])("points out %o as no page", (text) => {
    expect(oddTyping(page, "line", text)).toContain("page");
  });

  it("counts the figures of a telephone number", () => {
    expect(oddTyping(telephone, "line", "+44 20 7946 0000")).toBeNull();
    expect(oddTyping(telephone, "line", "12")).toContain("figures");
  });

  it("says that JSON is none yet, and where if the browser tells", () => {
    expect(oddTyping(json, "json", '{"a": [1, 2]}')).toBeNull();
    expect(oddTyping(json, "json", '{\n  "a": 1,\n}')).toContain("line 3, character 1");
    expect(oddTyping(json, "json", '{"a": x}')).toContain("not JSON yet");
    expect(oddTyping(json, "json", '{"a": 1')).toMatch(/JSON/);
  });
});
