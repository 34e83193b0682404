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

/**
 * Asks whether something is to be done in spite of what checks warn of.
 * @returns What the header is to say; null where nobody wants it so, or nobody can be asked.
 */
export async function askInSpiteOf(checks: string[], messages: string[]): Promise<string | null> {
  if (!asked.isShown() || !(await ask([...new Set(messages)]))) return null;
  return [...new Set(checks)].map(encodeURIComponent).join(",");
}

/** The request to send again, where nothing but warnings stand against it and somebody wants it all the same; null else. */
export async function inSpiteOf(request: Request, answer: Response, onceHeader: string): Promise<Request | null> {
  if (answer.status !== 400 || request.headers.has(despiteHeader)) return null;
  const body = (await answer
    .clone()
    .json()
    .catch(() => ({}))) as Warned;
  if (!body.warnings) return null;
  const despite = await askInSpiteOf(body.warnings, Object.values(body.errors ?? {}).flat());
  if (despite === null) return null;
  const again = request.clone();
  again.headers.set(despiteHeader, despite);
  // Another request to the server, and the same one however often it is sent.
  again.headers.set(onceHeader, `${request.headers.get(onceHeader) ?? ""}-despite`);
  return again;
}
