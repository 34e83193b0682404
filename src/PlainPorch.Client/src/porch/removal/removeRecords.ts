import { findOut, newOnceKey, onceHeader } from "../../api/acts";
import type { Schemas } from "../../api/client";
import { ApiError, NoConnectionError } from "../../api/problems";
import { askInSpiteOf, despiteHeader } from "../../api/warnings";
import type { PanelAddress } from "../../api/queries";

export interface RemovalWish {
  keys: string[];
  fingerprint: string;
  forGood: boolean;
  typed: number | null;
}

export type RemovalEnd =
  | { became: "done"; done: Schemas["RemovalOutcomeDone"] }
  | { became: "stale"; now: Schemas["RemovalProposal"] }
  | { became: "refused"; problems: Schemas["FieldProblem"][] };

const notDone = "Nothing was removed. Try again.";

/** Removes records and tells how far it is; giving the request up leaves everything as it was. */
export async function removeRecords(
  address: PanelAddress,
  wish: RemovalWish,
  onProgress: (progress: Schemas["RemovalProgress"]) => void,
  signal: AbortSignal,
  wait?: number,
): Promise<RemovalEnd> {
  // Under one key it is done once, and asked for again it is answered as it was.
  let key = newOnceKey();
  let despite: string | null = null;
  for (;;) {
    const end: RemovalEnd | Schemas["OutcomePending"] = await ask(address, wish, key, despite, onProgress, signal);
    if ("became" in end) {
      despite = despite === null && end.became === "refused" ? await inSpite(end.problems) : null;
      if (despite === null) return end;
      key = newOnceKey();
    } else if (!(await findOut(end, fetch, wait)))
      return { became: "refused", problems: [{ field: "", message: notDone }] };
  }
}

/** What is to be said where nothing but warnings stand against it and somebody wants it all the same; null else. */
async function inSpite(problems: Schemas["FieldProblem"][]): Promise<string | null> {
  const checks = problems.flatMap(({ warning }) => warning ?? []);
  if (checks.length === 0 || checks.length < problems.length) return null;
  return askInSpiteOf(
    checks,
    problems.map(({ message }) => message),
  );
}

async function ask(
  address: PanelAddress,
  wish: RemovalWish,
  key: string,
  despite: string | null,
  onProgress: (progress: Schemas["RemovalProgress"]) => void,
  signal: AbortSignal,
): Promise<RemovalEnd | Schemas["OutcomePending"]> {
  const answer = await fetch(`/api/porches/${address.porch}/panels/${address.panel}/removals`, {
    method: "POST",
    headers: {
      "Content-Type": "application/json",
      Accept: "application/x-ndjson",
      [onceHeader]: key,
      ...(despite !== null && { [despiteHeader]: despite }),
    },
    body: JSON.stringify(wish),
    signal,
  }).catch((failure: unknown) => {
    throw signal.aborted ? failure : new NoConnectionError();
  });
  if (answer.status === 202) return (await answer.json()) as Schemas["OutcomePending"];
  if (!answer.ok || !answer.body) throw new ApiError(answer.status, await answer.json().catch(() => null));
  for await (const line of linesOf(answer.body)) {
    const told = JSON.parse(line) as Schemas["RemovalLine"];
    if (told.progress) onProgress(told.progress);
    if (told.done) return { became: "done", done: told.done };
    if (told.stale) return { became: "stale", now: told.stale };
    if (told.pending) return told.pending;
    if (told.problems) return { became: "refused", problems: told.problems };
  }
  throw new NoConnectionError();
}

async function* linesOf(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
  const reader = body.pipeThrough(new TextDecoderStream() as ReadableWritablePair<string, Uint8Array>).getReader();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    const lines = (rest + value).split("\n");
    rest = lines.pop() ?? "";
    yield* lines.filter((line) => line !== "");
  }
  if (rest !== "") yield rest;
}
