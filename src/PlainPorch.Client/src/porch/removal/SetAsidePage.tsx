import { useInfiniteQuery, useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, unwrap, type ListRow, type Panel, type Schemas } from "../../api/client";
import { listQuery, setAsideQuery, type PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { inputClass } from "../../ui/Field";
import { Loading } from "../../ui/Loading";
import { useSettled } from "../../ui/useSettled";
import { formatCount, formatMoment, formatDay } from "../../values/format";
import { defaultView } from "../../api/listView";
import { BackToList } from "../query/BackToList";
import { recordPath } from "../../paths";
import { WithPanel } from "../panels/usePanel";
import { BringBackDialog } from "./BringBackDialog";
import { EraseDialog } from "./EraseDialog";
import { may } from "../panels/rights";
import { RemovalDialog } from "./RemovalDialog";
import { someOf, isRemoved } from "./words";

export function SetAsidePage() {
  return <WithPanel>{(address, panel) => <SetAside address={address} panel={panel} />}</WithPanel>;
}

/** What was set aside from a panel: by whom, when, what went along, and the way back. */
function SetAside({ address, panel }: { address: PanelAddress; panel: Panel }) {
  const [typed, setTyped] = useState("");
  const text = useSettled(typed, 250);
  const [isOfReturned, setOfReturned] = useState(false);
  const parcels = useInfiniteQuery(setAsideQuery(address, text, isOfReturned));
  const found = parcels.data?.pages.flatMap((page) => page.parcels) ?? [];
  return (
    <div className="grid gap-4">
      <title>{`Set aside · ${panel.label}`}</title>
      <BackToList address={address} panel={panel} />
      <h1 className="text-2xl font-semibold">Set aside from {panel.label}</h1>
      <div className="flex flex-wrap items-center gap-3">
        <input
          type="search"
          aria-label="Search records set aside"
          placeholder="Search by name"
          className={`${inputClass} max-w-md`}
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
          }}
        />
        <Button
          tone={isOfReturned ? "on" : "quiet"}
          aria-pressed={isOfReturned}
          onClick={() => {
            setOfReturned(!isOfReturned);
          }}
        >
          Brought back recently
        </Button>
      </div>
      {isOfReturned && (
        <p className="max-w-prose text-faint">
          Records brought back stay listed here for a while. If any of them are missing from their table after all, they
          can be brought back again.
        </p>
      )}
      {parcels.isPending && <Loading what="what is set aside" />}
      {parcels.isError && <Failure error={parcels.error} onRetry={() => void parcels.refetch()} />}
      {parcels.data && found.length === 0 && (
        <Empty
          title={
            isOfReturned
              ? "Nothing was brought back recently."
              : text
                ? "Nothing set aside has that name."
                : "Nothing is set aside here."
          }
        >
          {!text && !isOfReturned && (
            <p className="mt-1 text-faint">
              What is set aside in {panel.label} is listed here until it is brought back.
            </p>
          )}
        </Empty>
      )}
      {found.length > 0 && (
        <ul className="border-t border-line">
          {found.map((parcel) => (
            <Parcel key={parcel.id} address={address} panel={panel} parcel={parcel} isReturned={isOfReturned} />
          ))}
        </ul>
      )}
      {parcels.hasNextPage && (
        <div>
          <Button disabled={parcels.isFetchingNextPage} onClick={() => void parcels.fetchNextPage()}>
            Show earlier
          </Button>
        </div>
      )}
      {panel.hasMarker && <Marked address={address} panel={panel} />}
    </div>
  );
}

interface ParcelProps {
  address: PanelAddress;
  panel: Panel;
  parcel: Schemas["ParcelSummary"];
  /** Whether it was brought back, and is here only for a while. */
  isReturned: boolean;
}

function Parcel({ address, panel, parcel, isReturned }: ParcelProps) {
  const [open, setOpen] = useState<"back" | "erase" | null>(null);
  const own = parcel.parts[0];
  const along = parcel.parts.filter((part) => isRemoved(part.act));
  const close = () => {
    setOpen(null);
  };
  return (
    <li className="flex flex-wrap items-start gap-x-4 gap-y-2 border-b border-line py-2">
      <div className="mr-auto min-w-0">
        <p className="font-semibold">
          {parcel.title}
          {parcel.chosen > 1 && ` and ${formatCount(parcel.chosen - 1)} more`}
        </p>
        <p className="text-sm text-faint">
          {formatMoment(parcel.at)} by {parcel.who}
          {parcel.eraseAt && ` · erased for good on ${formatDay(parcel.eraseAt)}`}
        </p>
        <p className="text-sm">
          {along
            .map(
              (part) =>
                (part === own ? part.count - parcel.chosen : part.count) > 0 &&
                someOf(part === own ? part.count - parcel.chosen : part.count, part.label),
            )
            .filter(Boolean)
            .join(" · ")}
        </p>
      </div>
      {parcel.isBusy ? (
        <p className="text-faint">In progress …</p>
      ) : (
        <div className="flex gap-2">
          {may(panel, "bringBack") && (
            <Button
              tone={isReturned ? "quiet" : "next"}
              onClick={() => {
                setOpen("back");
              }}
            >
              {isReturned ? "Bring back what is missing …" : "Bring back …"}
            </Button>
          )}
          {!isReturned && may(panel, "erase") && (
            <Button
              onClick={() => {
                setOpen("erase");
              }}
            >
              Erase …
            </Button>
          )}
        </div>
      )}
      {open === "back" && <BringBackDialog address={address} parcel={parcel} onClose={close} />}
      {open === "erase" && <EraseDialog address={address} panel={panel} parcel={parcel} onClose={close} />}
    </li>
  );
}

/** The records that the table itself marks as set aside, whoever did it. */
function Marked({ address, panel }: { address: PanelAddress; panel: Panel }) {
  const [page, setPage] = useState(1);
  const list = useQuery(listQuery(address, { ...defaultView, isAside: true, page, size: 25 }));
  if (!list.data || (list.data.rows.length === 0 && page === 1)) return null;
  return (
    <section className="grid gap-2">
      <h2 className="text-xl font-semibold">Marked in the table</h2>
      <p className="max-w-prose text-faint">
        All {panel.label} marked as set aside in the table, including those marked by another program.
      </p>
      <ul className="border-t border-line">
        {list.data.rows.map((row) => (
          <MarkedRow key={row.key} address={address} panel={panel} row={row} />
        ))}
      </ul>
      <div className="flex gap-2">
        {page > 1 && (
          <Button
            onClick={() => {
              setPage(page - 1);
            }}
          >
            Previous
          </Button>
        )}
        {list.data.hasNext && (
          <Button
            onClick={() => {
              setPage(page + 1);
            }}
          >
            Next
          </Button>
        )}
      </div>
    </section>
  );
}

function MarkedRow({ address, panel, row }: { address: PanelAddress; panel: Panel; row: ListRow }) {
  const [isErasing, setErasing] = useState(false);
  const changed = useRecordsChanged();
  const key = row.key ?? "";
  const unmark = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/set-aside/unmark", {
          params: { path: address },
          body: { keys: [key] },
        }),
      ),
    onSuccess: () => {
      void changed(address.porch);
    },
  });
  const close = () => {
    setErasing(false);
  };
  return (
    <li className="flex flex-wrap items-center gap-2 border-b border-line py-1">
      <Link to={recordPath(address.porch, address.panel, key)} className="mr-auto link">
        {row.title}
      </Link>
      {unmark.isError && <span className="text-danger">{unmark.error.message}</span>}
      {panel.canRemove && may(panel, "bringBack") && (
        <Button
          disabled={unmark.isPending}
          aria-label={`Bring back ${row.title}`}
          onClick={() => {
            unmark.mutate();
          }}
        >
          Bring back
        </Button>
      )}
      {panel.canRemove && may(panel, "erase") && (
        <Button
          aria-label={`Erase ${row.title}`}
          onClick={() => {
            setErasing(true);
          }}
        >
          Erase …
        </Button>
      )}
      {isErasing && (
        <RemovalDialog address={address} panel={panel} keys={[key]} forGood onClose={close} onRemoved={close} />
      )}
    </li>
  );
}
