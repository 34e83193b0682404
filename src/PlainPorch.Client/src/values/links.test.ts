import { describe, expect, it } from "vitest";
import { linkOf } from "./links";

describe("linkOf", () => {
  it.each([
    ["E-mail", "sid.west@example.org", "mailto:sid.west@example.org"],
    ["Note", " sid@example.org ", "mailto:sid@example.org"],
    ["Website", "https://example.org/a?b=c", "https://example.org/a?b=c"],
    ["Website", "www.example.org", "https://www.example.org"],
    ["Phone", "+44 (0)20 7946 0018", "tel:+4402079460018"],
    ["Tel no", "0117/496-0123", "tel:01174960123"],
  ])("leads from %s %j to %s", (label, value, link) => {
    expect(linkOf(label, value)).toBe(link);
  });

  it.each([
    ["Boat number", "14100"],
    ["Note", "ask sid@example.org about it"],
    ["Telescope", "12345"],
    ["Phone", "ask at the office"],
    ["Website", "javascript:alert(1)"],
    ["E-mail", "sid@@example"],
    ["Phone", ""],
  ])("makes no link of %s %j", (label, value) => {
    expect(linkOf(label, value)).toBeNull();
  });
});
