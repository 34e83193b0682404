import { useQuery } from "@tanstack/react-query";
import type { ComponentType } from "react";
import { Failure } from "./Failure";

/**
 * A part of the page whose code comes apart from it: it is fetched as soon as the place where it may be wanted is shown, and where
 * that fails, for the server is away, it says so instead of taking the page down.
 *
 * @param name What tells it from other parts.
 */
export function later<P extends object>(name: string, load: () => Promise<ComponentType<P>>) {
  const query = {
    queryKey: ["part", name],
    queryFn: load,
    staleTime: Infinity,
    gcTime: Infinity,
    structuralSharing: false,
  };
  return {
    /** Fetches it. */
    useAhead: () => {
      useQuery(query);
    },
    Part: (props: P) => {
      const part = useQuery(query);
      if (part.isError) return <Failure error={part.error} onRetry={() => void part.refetch()} />;
      return part.data ? <part.data {...props} /> : null;
    },
  };
}
