import { held } from "./held";

/** The header that names the checks in spite of whose warning something is to be done. */
export const despiteHeader = "Despite";

/** A warning that somebody has to answer. */
export interface Warning {
  /** What the checks say. */
  messages: string[];
  /** Answers: whether it is to be done all the same. */
  answer: (goesOn: boolean) => void;
}

interface Warned {
  warnings?: string[];
  errors?: Record<string, string[]>;
}

const asked = held<Warning | null>(null);

/** What is being asked, for a component to show. */
export const warnings = { subscribe: asked.subscribe, now: asked.now };

// One after the other: each is answered by itself.
let before: Promise<unknown> = Promise.resolve();

function ask(messages: string[]): Promise<boolean> {
  const answered = before.then(
    () =>
      new Promise<boolean>((resolve) => {
        asked.set({
          messages,
          answer: (goesOn) => {
            asked.set(null);
            resolve(goesOn);
          },
        });
      }),
  );
  before = answered;
  return answered;
}

/** The request to send again, where nothing but warnings stand against it and somebody wants it all the same; null else. */
export async function inSpiteOf(request: Request, answer: Response, onceHeader: string): Promise<Request | null> {
  if (answer.status !== 400 || request.headers.has(despiteHeader)) return null;
  const body = (await answer
    .clone()
    .json()
    .catch(() => ({}))) as Warned;
  if (!body.warnings || !asked.isShown()) return null;
  const messages = [...new Set(Object.values(body.errors ?? {}).flat())];
  if (!(await ask(messages))) return null;
  const again = request.clone();
  again.headers.set(despiteHeader, body.warnings.map(encodeURIComponent).join(","));
  // Another request to the server, and the same one however often it is sent.
  again.headers.set(onceHeader, `${request.headers.get(onceHeader) ?? ""}-despite`);
  return again;
}
