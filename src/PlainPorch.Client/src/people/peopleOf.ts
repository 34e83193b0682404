import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, unwrap, type Schemas } from "../api/client";

export type RoleChoice = Schemas["RoleChoice"];

/** The people and programs of a porch. */
export const peopleQuery = (porch: string) =>
  queryOptions({
    queryKey: ["people", porch],
    queryFn: ({ signal }) => unwrap(api.GET("/api/porches/{porch}/people", { params: { path: { porch } }, signal })),
  });

/** Changes something about them. */
export function usePeopleChange<T>(porch: string, send: (change: T) => Promise<unknown>, onDone?: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: onDone,
    onSettled: () => client.invalidateQueries({ queryKey: peopleQuery(porch).queryKey }),
  });
}
