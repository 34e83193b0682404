import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { isLeft, turned, wantedOf, type Left } from "./left";

describe("what stays set aside of a part", () => {
  it("is what was turned over, by whatever way one came there, and what the server is asked for says the same", () => {
    // After a part of it was brought back, the numbers of what is left have holes.
    const numbers = fc.uniqueArray(fc.nat(40), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(numbers, fc.array(fc.nat(100), { maxLength: 30 }), fc.boolean(), (all, turns, fromAll) => {
        let left: Left | undefined = fromAll ? { isAll: true, but: [] } : undefined;
        const model = new Set<number>(fromAll ? all : []);
        for (const turn of turns) {
          const number = all[turn % all.length] ?? 0;
          left = turned(left, number, all.length);
          if (!model.delete(number)) model.add(number);
        }
        expect(all.filter((number) => isLeft(left, number))).toEqual(all.filter((number) => model.has(number)));
        expect(left === undefined).toBe(model.size === 0);
        const [wanted] = wantedOf(3, left);
        const comes = (number: number) =>
          wanted !== undefined &&
          wanted.numbers?.includes(number) !== false &&
          wanted.without?.includes(number) !== true;
        expect(all.filter(comes)).toEqual(all.filter((number) => !model.has(number)));
        expect(wanted === undefined).toBe(model.size === all.length);
      }),
    );
  });
});
