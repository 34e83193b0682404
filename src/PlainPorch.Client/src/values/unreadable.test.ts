import { describe, expect, it } from "vitest";
import { unreadableIn } from "./unreadable";

/** A form with inputs, as far as it is looked at. */
function form(...inputs: { reads: string; column: string; value: string }[]) {
  return {
    querySelectorAll: () => inputs.map(({ reads, column, value }) => ({ dataset: { reads, column }, value })),
  } as unknown as HTMLElement;
}

describe("unreadableIn", () => {
  it("names the columns whose inputs hold no value, and says how to type one", () => {
    const found = unreadableIn(
      form(
        { reads: "date", column: "ENT_DT", value: "30/02/2026" },
        { reads: "date", column: "UPD_DT", value: "28/02/2026" },
        { reads: "date", column: "EMPTY", value: " " },
        { reads: "time", column: "AT", value: "25:00" },
        { reads: "dateTime", column: "SINCE", value: "31/03/2026 at noon" },
      ),
    );
    expect([...found.keys()]).toEqual(["ENT_DT", "AT", "SINCE"]);
    expect(found.get("ENT_DT")).toContain("31/03/2026");
    expect(found.get("AT")).toContain("14:30");
  });

  it("finds none where there is no form", () => {
    expect(unreadableIn(null).size).toBe(0);
  });

  it("says that nothing was erased", () => {
    expect(unreadableIn(form({ reads: "date", column: "A", value: "x" })).get("A")).toContain("unchanged");
  });
});
