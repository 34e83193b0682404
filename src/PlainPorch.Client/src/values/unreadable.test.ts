import { describe, expect, it } from "vitest";
import { sayUnreadable, unreadableIn } from "./unreadable";

/** A form with inputs, as far as it is looked at. */
function form(...inputs: { type: string; column?: string; isBad: boolean }[]) {
  return {
    querySelectorAll: () =>
      inputs.map(({ type, column, isBad }) => ({ type, dataset: { column }, validity: { badInput: isBad } })),
  } as unknown as HTMLElement;
}

describe("unreadableIn", () => {
  it("names the columns whose inputs the browser cannot read", () => {
    const found = unreadableIn(
      form(
        { type: "date", column: "ENT_DT", isBad: true },
        { type: "date", column: "UPD_DT", isBad: false },
        { type: "time", column: "AT", isBad: true },
      ),
    );
    expect([...found.keys()]).toEqual(["ENT_DT", "AT"]);
    expect(found.get("ENT_DT")).toContain("date of the calendar");
    expect(found.get("AT")).toContain("time of day");
  });

  it("finds none where there is no form", () => {
    expect(unreadableIn(null).size).toBe(0);
  });

  it("says that nothing was erased", () => {
    expect(sayUnreadable("datetime-local")).toContain("still there");
  });
});
