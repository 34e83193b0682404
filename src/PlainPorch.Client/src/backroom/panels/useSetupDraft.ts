import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useRef, useState } from "react";
import { api, ifMatch, unwrap, type PanelColumn, type PanelDefinition, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import { panelQuery, porchesQuery, recordsKey, type PanelAddress } from "../../api/queries";

export interface SetupDraft {
  definition: PanelDefinition;
  change: (part: Partial<PanelDefinition>) => void;
  changeColumn: (name: string, part: Partial<PanelColumn>) => void;
  state: "saved" | "saving" | "refused" | "stale" | "failed";
  /** What is wrong with which field, or with the saving; empty while all is well. */
  errors: Record<string, string>;
  message: string | null;
  retry: () => void;
}

/** The draft being edited: each change is saved at once, one after the other, on top of the version before. */
export function useSetupDraft(address: PanelAddress, setup: Schemas["PanelSetupDto"]): SetupDraft {
  const [definition, setDefinition] = useState(setup.definition);
  const [isOutdated, setOutdated] = useState(false);
  const version = useRef(setup.version);
  const client = useQueryClient();

  const save = useMutation({
    // Changes wait for each other, so that each is based on the version that the one before made.
    scope: { id: `setup ${address.porch} ${address.panel}` },
    mutationFn: async (next: PanelDefinition) => {
      const saved = await unwrap(
        api.PUT("/api/porches/{porch}/panels/{panel}/setup", {
          params: { path: address, header: ifMatch(version.current) },
          body: next,
        }),
      );
      version.current = saved.version;
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: panelQuery(address).queryKey });
      await Promise.all([
        client.invalidateQueries({ queryKey: recordsKey(address) }),
        client.invalidateQueries({ queryKey: porchesQuery.queryKey }),
      ]);
    },
  });

  const looksStale = useEffectEvent(async () => {
    const now = await unwrap(api.GET("/api/porches/{porch}/panels/{panel}/setup", { params: { path: address } }));
    if (!save.isPending && now.version !== version.current) setOutdated(true);
  });
  useEffect(() => {
    // Whoever comes back to this tab is told before typing, not after.
    const look = () => void looksStale().catch(() => undefined);
    window.addEventListener("focus", look);
    return () => {
      window.removeEventListener("focus", look);
    };
  }, []);

  const apply = (next: PanelDefinition) => {
    setDefinition(next);
    save.mutate(next);
  };
  const status = save.error instanceof ApiError ? save.error.status : null;
  return {
    definition,
    change: (part) => {
      apply({ ...definition, ...part });
    },
    changeColumn: (name, part) => {
      apply({
        ...definition,
        columns: definition.columns.map((column) => (column.name === name ? { ...column, ...part } : column)),
      });
    },
    state: save.isPending
      ? "saving"
      : status === 412 || isOutdated
        ? "stale"
        : status === 400
          ? "refused"
          : save.isError
            ? "failed"
            : "saved",
    errors: save.error instanceof ApiError && status === 400 ? save.error.fields : {},
    message: save.error?.message ?? null,
    retry: () => {
      save.mutate(definition);
    },
  };
}
