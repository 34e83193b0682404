import { beforeEach, describe, expect, it, vi } from "vitest";
import { dropOldTyping, keepTyping, readTyping, typingPlace } from "./keptTyping";

function storage(limit = 1e9): Storage {
  const items = new Map<string, string>();
  const store = {
    getItem: (name: string) => items.get(name) ?? null,
    setItem: (name: string, text: string) => {
      if (text.length > limit) throw new DOMException("full", "QuotaExceededError");
      items.set(name, text);
      Object.defineProperty(store, name, { value: text, enumerable: true, configurable: true });
    },
    removeItem: (name: string) => {
      items.delete(name);
      Reflect.deleteProperty(store, name);
    },
  };
  return store as unknown as Storage;
}

const place = typingPlace("harbour", "boats", "B 7");
const kept = { at: "2026-11-28T10:03:00.000Z", version: 7, typed: { NAME: "Grey heron", constructor: "x" } };

describe("typing that is kept", () => {
  beforeEach(() => {
    vi.stubGlobal("localStorage", storage());
  });

  it("comes back as it was, for that record only", () => {
    keepTyping(place, kept);
    expect(readTyping(place)).toEqual({ ...kept, typed: expect.objectContaining(kept.typed) as unknown });
    expect(readTyping(typingPlace("harbour", "boats", null))).toBeNull();
    expect(typingPlace("harbour", "boats", "new")).not.toBe(typingPlace("harbour", "boats", null));
  });

  it("is gone once it is thrown away", () => {
    keepTyping(place, kept);
    keepTyping(place, null);
    expect(readTyping(place)).toBeNull();
  });

  it("is nothing where something else lies there", () => {
    for (const text of ["{", "null", "3", '{"at":"x"}', '{"at":"x","typed":{}}', '{"at":"x","typed":{"a":1}}']) {
      localStorage.setItem(place, text);
      expect(readTyping(place)).toBeNull();
    }
  });

  it("goes after a month, and so does what cannot be read; what others keep stays", () => {
    keepTyping(place, kept);
    localStorage.setItem("plain-porch typing broken", "{");
    localStorage.setItem("other", "{");
    dropOldTyping(new Date("2026-12-27T00:00:00Z"));
    expect(readTyping(place)).not.toBeNull();
    dropOldTyping(new Date("2026-12-29T00:00:00Z"));
    expect(readTyping(place)).toBeNull();
    expect(localStorage.getItem("plain-porch typing broken")).toBeNull();
    expect(localStorage.getItem("other")).toBe("{");
  });

  it("fails silently where there is no room", () => {
    vi.stubGlobal("localStorage", storage(10));
    keepTyping(place, kept);
    expect(readTyping(place)).toBeNull();
  });

  it("does not fill the browser's store with one text", () => {
    keepTyping(place, kept);
    keepTyping(place, { ...kept, typed: { NAME: "x".repeat(300_000) } });
    expect(readTyping(place)).toBeNull();
  });
});
