import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, type ListPage, type Panel } from "../../../api/client";
import type { PanelAddress } from "../../../api/queries";
import { Button } from "../../../ui/Button";
import { Failure } from "../../../ui/Failure";
import { ExportMenu } from "../../export/ExportMenu";
import { may } from "../../panels/rights";
import { filterOf, type ListView } from "../../../api/listView";
import type { MoveWish } from "../../ordering/useMoves";
import type { Removed } from "../../removal/removed";
import { verbOf } from "../../removal/words";
import type { Changed } from "./ChangedNotice";
import type { Selection } from "./useSelection";
import { formatCount } from "../../../values/format";
import { later } from "../../../ui/later";

// Wanted only where records are selected.
const Change = later("change", () => import("./ChangeDialog").then((module) => module.ChangeDialog));
const Move = later("move", () => import("../../ordering/MoveDialog").then((module) => module.MoveDialog));
const Removal = later("removal", () => import("../../removal/RemovalDialog").then((module) => module.RemovalDialog));

interface SelectionBarProps {
  address: PanelAddress;
  panel: Panel;
  page: ListPage;
  view: ListView;
  selection: Selection;
  onRemoved: (removed: Removed) => void;
  onChanged: (changed: Changed) => void;
  /** Moves records in the running order; null where there is none. */
  onMove: ((wish: MoveWish) => void) | null;
}

/** What can be done with the chosen records, wherever in the list they stand. */
export function SelectionBar({
  address,
  panel,
  page,
  view,
  selection,
  onRemoved,
  onChanged,
  onMove,
}: SelectionBarProps) {
  const [isChanging, setChanging] = useState(false);
  const [isRemoving, setRemoving] = useState(false);
  const [isMoving, setMoving] = useState(false);
  Change.useAhead();
  Move.useAhead();
  Removal.useAhead();
  const chooseAll = useMutation({
    mutationFn: () =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/keys", {
          params: { path: address, query: { ...filterOf(view), sort: view.sort } },
        }),
      ),
    onSuccess: ({ keys }) => {
      selection.set(keys);
    },
  });
  const count = selection.keys.size;
  if (count === 0) return null;
  const goesOn = page.hasNext || page.hasPrevious;
  return (
    <div
      role="group"
      aria-label="Selected records"
      className="flex flex-wrap items-center gap-2 border-l-4 border-accent bg-accent-tint px-3 py-1.5"
    >
      <p role="status" className="mr-2">
        <strong className="font-semibold">{formatCount(count)}</strong> selected
        {chooseAll.data?.hasMore &&
          `, the first in this list; at most ${formatCount(chooseAll.data.most)} can be selected`}
      </p>
      {goesOn && (
        <Button
          disabled={chooseAll.isPending}
          onClick={() => {
            chooseAll.mutate();
          }}
        >
          {chooseAll.isPending ? "Selecting …" : "Select all in this list"}
        </Button>
      )}
      {panel.canEdit && may(panel, "changeMany") && (
        <Button
          onClick={() => {
            setChanging(true);
          }}
        >
          Change a field …
        </Button>
      )}
      {onMove && (
        <Button
          onClick={() => {
            setMoving(true);
          }}
        >
          Move …
        </Button>
      )}
      {panel.canRemove && (
        <Button
          onClick={() => {
            setRemoving(true);
          }}
        >
          {verbOf(panel.manner)} …
        </Button>
      )}
      {may(panel, "export") && <ExportMenu address={address} view={view} chosen={[...selection.keys]} />}
      <Button
        className="ml-auto"
        onClick={() => {
          selection.set([]);
          chooseAll.reset();
        }}
      >
        Clear selection
      </Button>
      {chooseAll.isError && <Failure error={chooseAll.error} />}
      {isMoving && onMove && (
        <Move.Part
          panel={panel}
          keys={[...selection.keys]}
          onMove={onMove}
          onClose={() => {
            setMoving(false);
          }}
        />
      )}
      {isRemoving && (
        <Removal.Part
          address={address}
          panel={panel}
          keys={[...selection.keys]}
          onClose={() => {
            setRemoving(false);
          }}
          onRemoved={(done) => {
            setRemoving(false);
            selection.set([]);
            onRemoved(done);
          }}
        />
      )}
      {isChanging && (
        <Change.Part
          address={address}
          panel={panel}
          keys={[...selection.keys]}
          onClose={() => {
            setChanging(false);
          }}
          onChanged={onChanged}
        />
      )}
    </div>
  );
}
