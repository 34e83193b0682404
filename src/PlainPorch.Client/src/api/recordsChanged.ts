import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";

const CHANNEL = "plain-porch-records";

/** The records of a porch changed: what shows any of them, in whatever tab, is asked for anew. */
export function useRecordsChanged(): (porch: string) => Promise<void> {
  const client = useQueryClient();
  return useCallback(
    (porch: string) => {
      const channel = new BroadcastChannel(CHANNEL);
      channel.postMessage(porch);
      channel.close();
      return forget(client, porch);
    },
    [client],
  );
}

/** Hears of changes that were made in other tabs. */
export function useRecordsChangedElsewhere(): void {
  const client = useQueryClient();
  useEffect(() => {
    const channel = new BroadcastChannel(CHANNEL);
    channel.onmessage = (message: MessageEvent<string>) => void forget(client, message.data);
    return () => {
      channel.close();
    };
  }, [client]);
}

function forget(client: QueryClient, porch: string) {
  return client.invalidateQueries({
    predicate: ({ queryKey }) => (queryKey[0] === "records" || queryKey[0] === "log") && queryKey[1] === porch,
  });
}
