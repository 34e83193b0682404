import { useMutation } from "@tanstack/react-query";
import { api, unwrap, type Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";

/** Which records go where; nowhere in particular is the top. */
export type MoveWish = Omit<Schemas["MoveRequest"], "toEnd"> & { toEnd?: boolean };

/** Moves records in the running order, and takes the last move back. */
export function useMoves(address: PanelAddress) {
  const changed = useRecordsChanged();
  const move = useMutation({
    mutationFn: (wish: MoveWish) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/order/moves", {
          params: { path: address },
          body: { toEnd: false, ...wish },
        }),
      ),
    onSettled: () => {
      void changed(address.porch);
    },
  });
  const undo = useMutation({
    mutationFn: (entry: number) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/order/undo", { params: { path: address }, body: { entry } }),
      ),
    onSuccess: () => {
      move.reset();
      void changed(address.porch);
    },
  });
  return { move, undo };
}

export type Moves = ReturnType<typeof useMoves>;
