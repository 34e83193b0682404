import { describe, expect, it } from "vitest";
import { onceHeader, sendOnce } from "./acts";
import { despiteHeader, warnings } from "./warnings";

const warned = () =>
  new Response(JSON.stringify({ errors: { size: ["So large?"] }, warnings: ["big, or so"] }), { status: 400 });

const request = () =>
  new Request("http://porch/api/porches/p/panels/pens/records", {
    method: "POST",
    body: "{}",
    headers: { [onceHeader]: "k" },
  });

function answering(goesOn: boolean) {
  return warnings.subscribe(() => {
    const warning = warnings.now();
    if (warning)
      queueMicrotask(() => {
        warning.answer(goesOn);
      });
  });
}

describe("a warning", () => {
  it("is sent again by its name, under a key of its own, where somebody wants it so", async () => {
    const stop = answering(true);
    const sent: (string | null)[][] = [];
    const answer = await sendOnce(request(), (asked) => {
      const { headers } = asked as Request;
      sent.push([headers.get(onceHeader), headers.get(despiteHeader)]);
      return Promise.resolve(sent.length === 1 ? warned() : new Response("{}", { status: 200 }));
    });
    stop();
    expect(answer.status).toBe(200);
    expect(sent).toEqual([
      ["k", null],
      ["k-despite", "big%2C%20or%20so"],
    ]);
    expect(warnings.now()).toBeNull();
  });

  it("leaves the refusal where somebody goes back, and where nobody can be asked", async () => {
    for (const stop of [answering(false), null]) {
      let sent = 0;
      const answer = await sendOnce(request(), () => {
        sent++;
        return Promise.resolve(warned());
      });
      stop?.();
      expect([answer.status, sent]).toEqual([400, 1]);
    }
  });

  it("waits for the one before it to be answered", async () => {
    const heard: string[][] = [];
    const stop = warnings.subscribe(() => {
      const warning = warnings.now();
      if (!warning) return;
      heard.push(warning.messages);
      setTimeout(() => {
        warning.answer(heard.length === 1);
      }, 5);
    });
    const send = (says: string) =>
      sendOnce(request(), (asked) =>
        Promise.resolve(
          (asked as Request).headers.has(despiteHeader)
            ? new Response("{}", { status: 200 })
            : new Response(JSON.stringify({ errors: { "": [says] }, warnings: [says] }), { status: 400 }),
        ),
      );
    const answers = await Promise.all([send("One?"), send("Two?")]);
    stop();
    expect(heard).toEqual([["One?"], ["Two?"]]);
    expect(answers.map(({ status }) => status)).toEqual([200, 400]);
  });
});
