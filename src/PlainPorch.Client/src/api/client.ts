import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { ApiError, NoConnectionError } from "./problems";

export type Schemas = components["schemas"];
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

export const api = createClient<paths>({ baseUrl: window.location.origin });

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The body of a good answer; throws what is wrong otherwise. */
export async function unwrap<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await request;
  } catch (failure) {
    if (failure instanceof DOMException && failure.name === "AbortError") throw failure;
    throw new NoConnectionError();
  }
  if (!answer.response.ok) throw new ApiError(answer.response.status, answer.error);
  return answer.data as T;
}

/** The body of a good answer, null where it has none; throws what is wrong otherwise. */
export async function unwrapOrNull<T>(request: Promise<Answer<T>>): Promise<T | null> {
  return (await unwrap<T | undefined>(request)) ?? null;
}

/** The header that ties a write to the version that was shown. */
export function ifMatch(version: number) {
  return { "If-Match": `"${version}"` };
}
