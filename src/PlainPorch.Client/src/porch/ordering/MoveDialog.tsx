import { Dialog } from "radix-ui";
import { useState } from "react";
import type { Panel } from "../../api/client";
import { Button } from "../../ui/Button";
import { CountField } from "../../ui/CountField";
import { DialogFrame } from "../../ui/DialogFrame";
import { countOf } from "../removal/words";
import type { MoveWish } from "./useMoves";

interface MoveDialogProps {
  panel: Panel;
  keys: string[];
  onMove: (wish: MoveWish) => void;
  onClose: () => void;
}

/** Moves chosen records to the top, to the bottom or to a place of their group, on whatever page that is. */
export function MoveDialog({ panel, keys, onMove, onClose }: MoveDialogProps) {
  const [place, setPlace] = useState("");
  const move = (wish: Omit<MoveWish, "keys">) => {
    onMove({ keys, ...wish });
    onClose();
  };
  const number = /^\d{1,7}$/.test(place) && Number(place) > 0 ? Number(place) : null;
  return (
    <DialogFrame title={<>Move {countOf(panel, keys.length)}</>} onOpenChange={onClose}>
      <form
        className="mt-4 grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (number !== null) move({ place: number });
        }}
      >
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-40">
            <CountField
              label="Move to position"
              value={place}
              error={place !== "" && number === null ? "Type a whole number from 1." : undefined}
              onType={(text) => {
                setPlace(text.trim());
              }}
            />
          </div>
          <Button type="submit" tone="next" disabled={number === null}>
            Move there
          </Button>
        </div>
        <div className="flex flex-wrap gap-2">
          <Button
            onClick={() => {
              move({});
            }}
          >
            To the top
          </Button>
          <Button
            onClick={() => {
              move({ toEnd: true });
            }}
          >
            To the bottom
          </Button>
          <Dialog.Close asChild>
            <Button className="ml-auto">Cancel</Button>
          </Dialog.Close>
        </div>
      </form>
    </DialogFrame>
  );
}
