import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { around, fit, nearOf, RATIO, zoomed } from "./useCanvas";
import type { Graph, Layout } from "./pictureLayout";

const size = fc.integer({ min: 1, max: 20_000 });
const share = fc.double({ min: 0, max: 1, noNaN: true });

describe("the part of the picture in sight", () => {
  it("holds the whole picture, in its middle, when all is shown", () => {
    fc.assert(
      fc.property(size, size, (width, height) => {
        const view = fit({ width, height } as Layout);
        expect(view.x).toBeLessThanOrEqual(0);
        expect(view.y).toBeLessThanOrEqual(0);
        expect(view.x + view.width).toBeGreaterThanOrEqual(width);
        expect(view.y + view.width * RATIO).toBeGreaterThanOrEqual(height);
        expect(view.x + view.width / 2).toBeCloseTo(width / 2);
      }),
    );
  });

  it("keeps the point under the pointer where it is while zooming, within limits", () => {
    fc.assert(
      fc.property(
        size,
        size,
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        share,
        share,
        (width, height, factor, x, y) => {
          const whole = fit({ width, height } as Layout);
          const view = zoomed(whole, whole, factor, { x, y });
          expect(view.x + view.width * x).toBeCloseTo(whole.x + whole.width * x, 3);
          expect(view.y + view.width * RATIO * y).toBeCloseTo(whole.y + whole.width * RATIO * y, 3);
          expect(view.width).toBeGreaterThanOrEqual(200);
          expect(view.width).toBeLessThanOrEqual(whole.width * 1.5);
        },
      ),
    );
  });

  it("comes near enough to a chosen table to be read, and never goes farther for it", () => {
    const box = { id: "t", x: 4_000, y: 100, width: 120, height: 40 };
    const far = around(box, { x: 0, y: 0, width: 6_000 });
    expect(far.width).toBe(900);
    expect(far.x + far.width / 2).toBe(4_060);
    expect(around(box, { x: 0, y: 0, width: 400 }).width).toBe(400);
  });

  it("takes for near what a table refers to, and what refers to it", () => {
    const links = [
      { id: "1", from: "a", to: "b", columns: [] },
      { id: "2", from: "c", to: "a", columns: [] },
      { id: "3", from: "c", to: "d", columns: [] },
    ];
    expect([...nearOf({ links } as unknown as Graph, "a")].sort()).toEqual(["a", "b", "c"]);
  });
});
