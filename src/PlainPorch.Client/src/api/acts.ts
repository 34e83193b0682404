import { held } from "./held";
import type { Schemas } from "./schemas";
import { inSpiteOf } from "./warnings";

/** The header by which the server knows a repeat of a request that it has carried out already. */
export const onceHeader = "Idempotency-Key";

/** A key for one act: whatever is sent under it is carried out once. */
export function newOnceKey(): string {
  return crypto.randomUUID();
}

/** Something of which the server does not know yet whether it was done, or of which it has just become known. */
export interface PendingAct {
  id: number;
  state: "findingOut" | "done" | "notDone";
}

type Pending = Schemas["OutcomePending"];

const notDoneText = "It was not done, and nothing was changed. Try again.";
const pause = 1500;

const acts = held<PendingAct[]>([]);
let counter = 0;

/** What is being found out, for a component to show. */
export const pendingActs = {
  subscribe: acts.subscribe,
  now: acts.now,
  close: (id: number) => {
    acts.set(acts.now().filter((act) => act.id !== id));
  },
};

/** Waits until it is known whether something was done, and meanwhile lets the page say so. */
export async function findOut(pending: Pending, ask: typeof fetch = fetch, wait = pause): Promise<boolean> {
  const id = ++counter;
  acts.set([...acts.now(), { id, state: "findingOut" }]);
  for (;;) {
    await new Promise((resolve) => setTimeout(resolve, wait));
    const happened = await outcomeOf(pending, ask);
    if (happened === null) continue;
    acts.set(acts.now().map((act) => (act.id === id ? { id, state: happened ? "done" : "notDone" } : act)));
    return happened;
  }
}

// A network or server that is away is asked again.
async function outcomeOf(pending: Pending, ask: typeof fetch): Promise<boolean | null> {
  try {
    const answer = await ask(pending.outcome);
    return answer.ok ? ((await answer.json()) as Schemas["OutcomeDto"]).happened : null;
  } catch {
    return null;
  }
}

/**
 * Sends a request. What changes records bears a key, so that it is carried out once; where the server cannot tell yet whether it was,
 * that is found out, and the answer is then the one that the first time would have given.
 */
export async function sendOnce(request: Request, ask: typeof fetch = fetch, wait = pause): Promise<Response> {
  if (request.method === "GET" || request.method === "DELETE" || !request.url.includes("/panels/")) return ask(request);
  if (!request.headers.has(onceHeader)) request.headers.set(onceHeader, newOnceKey());
  for (;;) {
    const answer = await ask(request.clone());
    const again = await inSpiteOf(request, answer, onceHeader);
    if (again) return sendOnce(again, ask, wait);
    if (answer.status !== 202) return answer;
    if (!(await findOut((await answer.json()) as Pending, ask, wait))) return notDone();
  }
}

function notDone(): Response {
  const body = { title: "It was not done.", detail: notDoneText, status: 409 };
  return new Response(JSON.stringify(body), { status: 409, headers: { "Content-Type": "application/problem+json" } });
}
