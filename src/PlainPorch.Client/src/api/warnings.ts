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

let asked: Warning | null = null;
const listeners = new Set<() => void>();

/** What is being asked, for a component to show. */
export const warnings = {
  subscribe: (listener: () => void) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  },
  now: () => asked,
};

/** The request to send again, where nothing but warnings stand against it and somebody wants it all the same; null else. */
export async function inSpiteOf(request: Request, answer: Response, onceHeader: string): Promise<Request | null> {
  if (answer.status !== 400 || request.headers.has(despiteHeader)) return null;
  const body = (await answer
    .clone()
    .json()
    .catch(() => ({}))) as Warned;
  if (!body.warnings || listeners.size === 0) return null;
  const messages = [...new Set(Object.values(body.errors ?? {}).flat())];
  const goesOn = await new Promise<boolean>((resolve) => {
    tell({ messages, answer: resolve });
  });
  tell(null);
  if (!goesOn) return null;
  const again = request.clone();
  again.headers.set(despiteHeader, body.warnings.map(encodeURIComponent).join(","));
  // Another request to the server, and the same one however often it is sent.
  again.headers.set(onceHeader, `${request.headers.get(onceHeader) ?? ""}-despite`);
  return again;
}

function tell(now: Warning | null) {
  asked = now;
  for (const listener of listeners) listener();
}
