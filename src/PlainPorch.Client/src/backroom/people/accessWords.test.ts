import { expect, test } from "vitest";
import { sayAccess } from "./accessWords";

test.each([
  [{ act: "signedIn", by: "", about: "Ada Weir", porch: null }, "Ada Weir signed in"],
  [{ act: "refused", by: "", about: "", porch: null }, "Somebody was not let in"],
  [{ act: "signedOut", by: "Ada Weir", about: "Ada Weir", porch: null }, "Ada Weir signed out"],
  [{ act: "signedOut", by: "Dot Reed", about: "Ada Weir", porch: "quay" }, "Dot Reed signed Ada Weir out"],
  [{ act: "invited", by: "Dot Reed", about: "Ada Weir", porch: "quay" }, "Dot Reed invited Ada Weir into quay"],
  [{ act: "tokenMade", by: "Dot Reed", about: "Scales", porch: "quay" }, "Dot Reed made the token Scales in quay"],
] as const)("%o", (entry, words) => {
  expect(sayAccess(entry)).toBe(words);
});
