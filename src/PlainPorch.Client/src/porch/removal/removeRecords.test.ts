import { afterEach, describe, expect, it, vi } from "vitest";
import { ApiError, NoConnectionError } from "../../api/problems";
import { despiteHeader, warnings } from "../../api/warnings";
import { removeRecords } from "./removeRecords";

const wish = { keys: ["1"], fingerprint: "f", forGood: false, typed: null };
const address = { porch: "harbour", panel: "boats" };

/** Lets the server answer in pieces, cut wherever the network cuts them. */
function answer(pieces: string[], status = 200) {
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      for (const piece of pieces) controller.enqueue(new TextEncoder().encode(piece));
      controller.close();
    },
  });
  vi.stubGlobal("fetch", vi.fn().mockResolvedValue(new Response(body, { status })));
}

function remove() {
  const told: number[] = [];
  const end = removeRecords(address, wish, (progress) => told.push(progress.done), new AbortController().signal);
  return { told, end };
}

afterEach(() => {
  vi.unstubAllGlobals();
});

describe("removeRecords", () => {
  it("tells how far it is, however the lines arrive", async () => {
    answer([
      '{"progress":{"step":"Reading","do',
      'ne":1,"of":2}}\n{"progress":{"step":"Reading","done":2,"of":2}}\n{"do',
      'ne":{"count":7}}',
    ]);
    const { told, end } = remove();
    await expect(end).resolves.toEqual({ became: "done", done: { count: 7 } });
    expect(told).toEqual([1, 2]);
  });

  it("gives what it would be now, and what was refused", async () => {
    answer(['{"stale":{"fingerprint":"g"}}\n']);
    await expect(remove().end).resolves.toEqual({ became: "stale", now: { fingerprint: "g" } });
    answer(['{"problems":[{"field":"","message":"A trigger."}]}\n']);
    await expect(remove().end).resolves.toMatchObject({ became: "refused", problems: [{ message: "A trigger." }] });
  });

  it("is asked for again where nothing but warnings stand against it and somebody wants it so", async () => {
    const line = (warning: string | null) =>
      new Response(JSON.stringify({ problems: [{ field: "", message: "So large?", warning }] }) + "\n");
    const sent: RequestInit[] = [];
    const answers = [line("big, or so"), new Response('{"done":{"count":1}}\n')];
    vi.stubGlobal(
      "fetch",
      vi.fn((_: string, init: RequestInit) => {
        sent.push(init);
        return Promise.resolve(answers.shift());
      }),
    );
    const stop = warnings.subscribe(() => {
      const warning = warnings.now();
      if (warning)
        queueMicrotask(() => {
          warning.answer(true);
        });
    });
    await expect(remove().end).resolves.toEqual({ became: "done", done: { count: 1 } });
    stop();
    const despite = sent.map(({ headers }) => (headers as Record<string, string>)[despiteHeader]);
    expect(despite).toEqual([undefined, "big%2C%20or%20so"]);
    answers.push(line(null));
    await expect(remove().end).resolves.toMatchObject({ became: "refused", problems: [{ message: "So large?" }] });
  });

  it("does not take a broken connection for the end of it", async () => {
    answer(['{"progress":{"step":"Reading","done":1,"of":2}}\n']);
    await expect(remove().end).rejects.toBeInstanceOf(NoConnectionError);
    vi.stubGlobal("fetch", vi.fn().mockRejectedValue(new TypeError("no network")));
    await expect(remove().end).rejects.toBeInstanceOf(NoConnectionError);
  });

  it("says why the server would not", async () => {
    answer(['{"detail":"Records of Boats cannot be removed here."}'], 409);
    const refused = await remove().end.catch((error: unknown) => error);
    expect(refused).toBeInstanceOf(ApiError);
    expect(String(refused)).toContain("cannot be removed here");
  });

  it("lets whoever gave it up know that it was given up", async () => {
    const giveUp = new AbortController();
    giveUp.abort();
    vi.stubGlobal("fetch", vi.fn().mockRejectedValue(new DOMException("given up", "AbortError")));
    await expect(removeRecords(address, wish, () => undefined, giveUp.signal)).rejects.toMatchObject({
      name: "AbortError",
    });
  });
});
