import { describe, expect, it } from "vitest";
import { timeLeft } from "./timeLeft";

describe("timeLeft", () => {
  it("judges by the time that it took so far", () => {
    expect(timeLeft(250, 1000, 10)).toBe("about 30 seconds left");
    expect(timeLeft(100, 1000, 60)).toBe("about 9 minutes left");
    expect(timeLeft(950, 1000, 60)).toBe("a few seconds left");
    expect(timeLeft(1, 1000, 60)).toBe("about 17 hours left");
  });

  it("says nothing before it can know", () => {
    expect(timeLeft(10, 0, 10)).toBeNull();
    expect(timeLeft(0, 100, 10)).toBeNull();
    expect(timeLeft(10, 100, 1)).toBeNull();
    expect(timeLeft(100, 100, 10)).toBeNull();
  });
});
