import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { shiftOf } from "./useHeadInSight";

describe("shiftOf", () => {
  it.each([
    ["a table that begins within sight", { top: 120, height: 900, head: 40 }, 0],
    ["one that was scrolled by", { top: -300, height: 900, head: 40 }, 300],
    ["the end of one", { top: -890, height: 900, head: 40 }, 860],
    ["one shorter than its head", { top: -10, height: 20, head: 40 }, 0],
  ])("of %s", (_, places, shift) => {
    expect(shiftOf(places)).toBe(shift);
  });

  it("never leaves the table, and reaches the edge of what is seen where there is room", () => {
    const places = fc.record({
      top: fc.integer({ min: -5_000, max: 1_000 }),
      height: fc.integer({ min: 40, max: 5_000 }),
      head: fc.constant(40),
    });
    fc.assert(
      fc.property(places, (given) => {
        const shift = shiftOf(given);
        expect(shift).toBeGreaterThanOrEqual(0);
        expect(shift + given.head).toBeLessThanOrEqual(Math.max(given.height, given.head));
        if (given.top + given.height >= given.head) {
          expect(given.top + shift).toBeGreaterThanOrEqual(0);
        }
      }),
    );
  });
});
