import { describe, expect, it } from "vitest";
import { ApiError, NoConnectionError } from "./problems";

describe("ApiError", () => {
  it("says what the server said, and what is wrong with which field", () => {
    const error = new ApiError(400, {
      title: "Not saved.",
      detail: "Look again.",
      errors: { NAME: ["Too long.", "Odd."], "": ["All of it."] },
    });
    expect(error.message).toBe("Look again.");
    expect(error.fields).toEqual({ NAME: "Too long. Odd.", "": "All of it." });
  });

  it.each([
    [404, null, "There is nothing at this address, or it no longer exists."],
    [500, { title: "A fault." }, "A fault."],
    [502, "<html>", "The server answered with an error (502)."],
    [412, [1, 2], "The server answered with an error (412)."],
  ])("has words for %d with %j", (status, body, says) => {
    const error = new ApiError(status, body);
    expect([error.message, error.fields]).toEqual([says, {}]);
  });
});

describe("NoConnectionError", () => {
  it("tells that nothing typed is lost", () => {
    expect(new NoConnectionError().message).toContain("Nothing you typed is lost");
  });
});
