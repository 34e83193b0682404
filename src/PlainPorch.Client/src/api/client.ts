import createClient from "openapi-fetch";
import type { paths } from "./schema";
import type { Schemas } from "./schemas";
import { bareAll } from "./bare";
import { onceHeader, sendOnce } from "./acts";
import { lostSession } from "./lostSession";
import { ApiError, NoConnectionError } from "./problems";

export type { Schemas };
export type Source = Schemas["SourceDto"];
export type SourceRequest = Schemas["SourceRequest"];
export type Panel = Schemas["PanelDto"];
export type Column = Schemas["ColumnDto"];
export type ListPage = Schemas["ListPage"];
export type ListRow = Schemas["ListRow"];
export type RecordView = Schemas["RecordView"];
export type PanelDefinition = Schemas["PanelDefinition"];
export type LookupTitle = Schemas["LookupTitle"];
export type PanelColumn = Schemas["PanelColumn"];

export const api = createClient<paths>({ baseUrl: window.location.origin, fetch: (request) => sendOnce(request) });

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

// What is pending is found out before an answer gets here.
type Settled<T> = Exclude<T, Schemas["OutcomePending"]>;

/** The body of a good answer; throws what is wrong otherwise. */
export async function unwrap<T>(request: Promise<Answer<T>>): Promise<Settled<T>> {
  let answer: Answer<T>;
  try {
    answer = await request;
  } catch (failure) {
    if (failure instanceof DOMException && failure.name === "AbortError") throw failure;
    throw new NoConnectionError();
  }
  if (answer.response.status === 401) lostSession.set(true);
  if (!answer.response.ok) throw new ApiError(answer.response.status, bareAll(answer.error));
  return bareAll(answer.data) as Settled<T>;
}

/** The body of a good answer, null where it has none; throws what is wrong otherwise. */
export async function unwrapOrNull<T>(request: Promise<Answer<T>>): Promise<Settled<NonNullable<T>> | null> {
  return ((await unwrap<T | undefined>(request)) ?? null) as Settled<NonNullable<T>> | null;
}

/** The header under which whatever is sent is carried out once. */
export function once(key: string) {
  return { [onceHeader]: key };
}

/** The header that ties a write to the version that was shown. */
export function ifMatch(version: number) {
  return { "If-Match": `"${version}"` };
}
