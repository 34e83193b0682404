import { describe, expect, it } from "vitest";
import { findOut, onceHeader, pendingActs, sendOnce } from "./acts";

const pending = { entry: 7, outcome: "/api/porches/zoo/log/7/outcome", says: "It is not known yet" };

/** Answers one after another, and notes what was asked. */
function server(...answers: [number, unknown][]) {
  const asked: { address: string; key: string | null }[] = [];
  const ask = ((input: Request | string) => {
    const [status, body] = answers.shift() ?? [500, {}];
    asked.push(
      typeof input === "string"
        ? { address: input, key: null }
        : { address: input.url, key: input.headers.get(onceHeader) },
    );
    return status === 0
      ? Promise.reject(new TypeError("Failed to fetch"))
      : Promise.resolve(new Response(JSON.stringify(body), { status }));
  }) as typeof fetch;
  return { ask, asked };
}

const post = (headers: Record<string, string> = {}) =>
  new Request("http://localhost/api/porches/zoo/panels/boat/records", { method: "POST", body: "{}", headers });

describe("sendOnce", () => {
  it("gives each request that changes records a key of its own, and leaves one that is given", async () => {
    const { ask, asked } = server([201, {}], [201, {}], [201, {}]);
    await sendOnce(post(), ask);
    await sendOnce(post(), ask);
    await sendOnce(post({ [onceHeader]: "mine" }), ask);
    expect(asked[0]?.key).toBeTruthy();
    expect(asked[0]?.key).not.toBe(asked[1]?.key);
    expect(asked[2]?.key).toBe("mine");
  });

  it("leaves reading and the back room alone", async () => {
    const { ask, asked } = server([200, {}], [200, {}]);
    await sendOnce(new Request("http://localhost/api/porches/zoo/panels/boat/records"), ask);
    await sendOnce(new Request("http://localhost/api/sources", { method: "POST" }), ask);
    expect(asked.map((one) => one.key)).toEqual([null, null]);
  });

  it("finds out what is not known, through a network that is away, and then asks once more under the same key", async () => {
    const { ask, asked } = server(
      [202, pending],
      [0, {}],
      [503, {}],
      [200, { happened: null }],
      [200, { happened: true }],
      [201, { key: "5" }],
    );
    const answer = await sendOnce(post(), ask, 0);
    expect([answer.status, await answer.json()]).toEqual([201, { key: "5" }]);
    expect(asked[5]?.key).toBe(asked[0]?.key);
    expect(asked[1]?.address).toBe(pending.outcome);
  });

  it("says so when it turns out that nothing was done, and does not do it by itself", async () => {
    const { ask, asked } = server([202, pending], [200, { happened: false }]);
    const answer = await sendOnce(post(), ask, 0);
    expect(answer.status).toBe(409);
    expect(((await answer.json()) as { detail: string }).detail).toContain("nothing was changed");
    expect(asked).toHaveLength(2);
  });
});

describe("findOut", () => {
  it("lets the page say what is going on, and what came of it", async () => {
    const states: string[] = [];
    const stop = pendingActs.subscribe(() => states.push(pendingActs.now().at(-1)?.state ?? ""));
    await findOut(pending, server([200, { happened: null }], [200, { happened: true }]).ask, 0);
    expect(states).toEqual(["findingOut", "done"]);
    pendingActs.close(pendingActs.now().at(-1)?.id ?? 0);
    stop();
    expect(pendingActs.now().every((act) => act.state !== "findingOut")).toBe(true);
  });
});
