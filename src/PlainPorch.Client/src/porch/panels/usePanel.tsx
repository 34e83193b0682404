import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useParams } from "react-router";
import type { Panel } from "../../api/client";
import { panelQuery, type PanelAddress } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";

export function usePanelAddress(): PanelAddress {
  const { porch = "", panel = "" } = useParams();
  return { porch, panel };
}

interface WithPanelProps {
  children: (address: PanelAddress, panel: Panel) => ReactNode;
}

/** Fetches the panel of the present address and shows what needs it. */
export function WithPanel({ children }: WithPanelProps) {
  const address = usePanelAddress();
  const panel = useQuery(panelQuery(address));
  if (panel.isPending) return <Loading what="the panel" />;
  if (!panel.data) return <Failure error={panel.error} onRetry={() => void panel.refetch()} />;
  return children(address, panel.data);
}
