import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, type Schemas } from "../../api/client";
import { keptViewsQuery, type PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { PopoverPanel } from "../../ui/PopoverPanel";
import { defaultView, isRestricted, type ChangeView, type ListView } from "../../api/listView";

type KeptView = Schemas["KeptViewDto"];

interface KeptViewsProps {
  address: PanelAddress;
  view: ListView;
  onChange: ChangeView;
}

/** The lists that were kept under a name, and the way to keep the one that is shown. */
export function KeptViews({ address, view, onChange }: KeptViewsProps) {
  const [isOpen, setOpen] = useState(false);
  const views = useQuery(keptViewsQuery(address));
  const current = views.data?.find((one) => isSame(one.view, view));
  return (
    <PopoverPanel
      label="Saved lists"
      isOpen={isOpen}
      onOpenChange={setOpen}
      className="grid w-80 gap-3 p-3"
      trigger={
        <Button className="max-w-64">
          <span className="truncate">{current ? current.name : "Saved lists"}</span>
        </Button>
      }
    >
      {views.isError && <Failure error={views.error} onRetry={() => void views.refetch()} />}
      {views.data?.length === 0 && <p className="text-faint">No saved lists yet.</p>}
      {views.data && views.data.length > 0 && (
        <ul className="max-h-72 overflow-y-auto">
          {views.data.map((one) => (
            <Kept
              key={`${String(one.isForAll)} ${one.name}`}
              address={address}
              kept={one}
              isCurrent={one === current}
              onShow={() => {
                onChange(changeOf(one.view));
                setOpen(false);
              }}
            />
          ))}
        </ul>
      )}
      <KeepForm
        address={address}
        view={view}
        onKept={() => {
          setOpen(false);
        }}
      />
    </PopoverPanel>
  );
}

interface KeptProps {
  address: PanelAddress;
  kept: KeptView;
  isCurrent: boolean;
  onShow: () => void;
}

function Kept({ address, kept, isCurrent, onShow }: KeptProps) {
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: () =>
      unwrap(
        api.DELETE("/api/porches/{porch}/panels/{panel}/views/{name}", {
          params: { path: { ...address, name: kept.name }, query: { isForAll: kept.isForAll } },
        }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: keptViewsQuery(address).queryKey }),
  });
  return (
    <li className="flex items-center gap-1">
      <button
        type="button"
        onClick={onShow}
        className={`min-h-8 min-w-0 flex-1 rounded px-2 text-left hover:bg-paper ${isCurrent ? "font-semibold" : ""}`}
      >
        <span className="block truncate">{kept.name}</span>
        <span className="block text-sm text-faint">
          {kept.isStart ? "opens by default" : kept.isForAll ? "for everybody" : "only for you"}
          {kept.problems.length > 0 && ` · ${kept.problems[0]?.message ?? ""}`}
        </span>
      </button>
      <button
        type="button"
        aria-label={`Delete ${kept.name}`}
        title={`Delete ${kept.name}`}
        disabled={remove.isPending}
        onClick={() => {
          remove.mutate();
        }}
        className="size-8 rounded hover:bg-tint"
      >
        ×
      </button>
    </li>
  );
}

function KeepForm({ address, view, onKept }: { address: PanelAddress; view: ListView; onKept: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [reach, setReach] = useState<"own" | "all" | "start">("own");
  const keep = useMutation({
    mutationFn: () =>
      unwrap(
        api.PUT("/api/porches/{porch}/panels/{panel}/views/{name}", {
          params: { path: { ...address, name: name.trim() } },
          body: { isForAll: reach !== "own", isStart: reach === "start", view: keptOf(view) },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keptViewsQuery(address).queryKey });
      onKept();
    },
  });
  return (
    <form
      className="grid gap-2 border-t border-line pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim() !== "") keep.mutate();
      }}
    >
      <label className="grid gap-1">
        <span className="text-sm font-semibold">Save this list as</span>
        <input
          aria-label="Save this list as"
          value={name}
          maxLength={100}
          required
          onChange={(event) => {
            setName(event.target.value);
          }}
          className="min-h-8 rounded border border-edge bg-sheet px-2"
        />
      </label>
      <select
        aria-label="Who sees it"
        value={reach}
        onChange={(event) => {
          setReach(event.target.value as typeof reach);
        }}
        className="min-h-8 rounded border border-edge bg-sheet px-1"
      >
        <option value="own">Only for me</option>
        <option value="all">For everybody in this porch</option>
        <option value="start">For everybody, as the default</option>
      </select>
      {keep.isError && <Failure error={keep.error} />}
      <Button type="submit" disabled={keep.isPending || name.trim() === ""}>
        Keep
      </Button>
    </form>
  );
}

function keptOf(view: ListView): Schemas["ListView"] {
  return {
    search: view.search,
    where: view.where,
    in: view.narrowed,
    unfit: view.unfit,
    breaks: view.breaks,
    sort: view.sort,
    columns: view.columns,
  };
}

/** What changes in a list when a kept one is shown. */
export function changeOf(kept: Schemas["ListView"]): Partial<ListView> {
  return {
    ...defaultView,
    search: kept.search ?? "",
    where: kept.where ?? "",
    narrowed: kept.in ?? [],
    unfit: kept.unfit ?? [],
    breaks: kept.breaks ?? "",
    sort: kept.sort ?? [],
    columns: kept.columns ?? [],
  };
}

function isSame(kept: Schemas["ListView"], view: ListView): boolean {
  if (!isRestricted(view) && view.sort.length === 0 && view.columns.length === 0) return false;
  const own = keptOf(view);
  return (
    JSON.stringify([kept.search, kept.where, kept.in, kept.unfit, kept.breaks ?? "", kept.sort, kept.columns]) ===
    JSON.stringify([own.search, own.where, own.in, own.unfit, own.breaks, own.sort, own.columns])
  );
}
