import { useState } from "react";
import type { PanelAddress } from "../../../api/queries";
import { Button } from "../../../ui/Button";
import type { ChangeView, ListView } from "../../../api/listView";
import { ConditionsDialog } from "./ConditionsDialog";

interface ConditionsButtonProps {
  address: PanelAddress;
  view: ListView;
  onChange: ChangeView;
}

/** Opens what puts conditions together. */
export function ConditionsButton({ address, view, onChange }: ConditionsButtonProps) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <Button
        tone={view.where === "" ? "quiet" : "on"}
        onClick={() => {
          setOpen(true);
        }}
      >
        Conditions …
      </Button>
      {isOpen && (
        <ConditionsDialog
          address={address}
          view={view}
          onShow={(where) => {
            onChange({ where });
            setOpen(false);
          }}
          onClose={() => {
            setOpen(false);
          }}
        />
      )}
    </>
  );
}
