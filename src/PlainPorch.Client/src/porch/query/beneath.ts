import { useState } from "react";
import type { PanelAddress } from "../../api/queries";
import { own } from "../../api/whose";

/** What tells a kind of related records from others. */
export function kindName({ panel, column }: { panel: string; column: string }): string {
  return `${panel} ${column}`;
}

/** The kind of related records that stands beneath a list, as it was chosen on this computer; "" for none. */
export function useBeneath(address: PanelAddress, kinds: { panel: string; column: string }[]) {
  const place = own(`plain-porch beneath ${address.porch}/${address.panel}`);
  const [kind, setKind] = useState(() => localStorage.getItem(place) ?? "");
  return {
    kind: kinds.some((one) => kindName(one) === kind) ? kind : "",
    choose: (chosen: string) => {
      if (chosen === "") localStorage.removeItem(place);
      else localStorage.setItem(place, chosen);
      setKind(chosen);
    },
  };
}
