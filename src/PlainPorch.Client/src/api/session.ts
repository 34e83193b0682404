import { queryOptions } from "@tanstack/react-query";
import { api, unwrap, type Schemas } from "./client";

export type SignedIn = Schemas["SignedInDto"];

/** Who is signed in. */
export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: ({ signal }) => unwrap(api.GET("/api/session", { signal })),
  staleTime: Infinity,
});

/** The cookie by which a developer looks at a porch as people of a role see it; it can only narrow what is seen. */
const asCookie = "porch-as";

/** As what role a porch is looked at, and as which record. */
export interface SeenAs {
  porch: string;
  role: string;
  record: string;
}

export function seenAs(cookies: string = document.cookie): SeenAs | null {
  const value = cookies
    .split("; ")
    .find((one) => one.startsWith(`${asCookie}=`))
    ?.slice(asCookie.length + 1);
  const [porch, role, record] = value?.split("/").map(decodeURIComponent) ?? [];
  return porch && role ? { porch, role, record: record ?? "" } : null;
}

/** Looks at a porch as a role sees it; null for as it is. */
export function seeAs(as: SeenAs | null) {
  const value = as && [as.porch, as.role, as.record].map(encodeURIComponent).join("/");
  document.cookie = `${asCookie}=${value ?? ""}; path=/; samesite=strict${value === null ? "; max-age=0" : ""}`;
}
