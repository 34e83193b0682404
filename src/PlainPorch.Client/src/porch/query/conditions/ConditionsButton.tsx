import { useState } from "react";
import type { PanelAddress } from "../../../api/queries";
import { Button } from "../../../ui/Button";
import type { ChangeView, ListView } from "../../../api/listView";
import { later } from "../../../ui/later";

interface ConditionsButtonProps {
  address: PanelAddress;
  view: ListView;
  onChange: ChangeView;
}

const Conditions = later("conditions", () => import("./ConditionsDialog").then((module) => module.ConditionsDialog));

/** Opens what puts conditions together. */
export function ConditionsButton({ address, view, onChange }: ConditionsButtonProps) {
  const [isOpen, setOpen] = useState(false);
  Conditions.useAhead();
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
        <Conditions.Part
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
