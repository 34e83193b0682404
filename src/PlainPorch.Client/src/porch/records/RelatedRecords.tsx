import { useQuery } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import type { RecordView, Schemas } from "../../api/client";
import { relatedQuery, type PanelAddress } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { panelPath, recordPath } from "../../paths";
import { RelatedTable } from "./RelatedTable";
import { TickSet } from "./TickSet";
import { formatCount } from "../../values/format";

const link = "link";

interface RelatedRecordsProps {
  address: PanelAddress;
  record: RecordView;
  /** Whether the person may change the record, and with it what belongs to it. */
  canChange: boolean;
}

interface AllRelatedProps extends RelatedRecordsProps {
  /** Whether one kind is shown at a time. */
  asTabs: boolean;
}

/** The records of other panels that point at this one: the first of each, and the way to all of them. */
export function RelatedRecords({ address, record, canChange, asTabs }: AllRelatedProps) {
  const related = useQuery(relatedQuery(address, record.key));
  if (related.isPending) return <Loading what="related records" />;
  if (!related.data) return <Failure error={related.error} onRetry={() => void related.refetch()} />;
  const [filled, empty] = [related.data.filter(hasRecords), related.data.filter((list) => !hasRecords(list))];
  const show = (list: Schemas["RelatedList"]) => (
    <RelatedList
      key={`${list.panel} ${list.column}`}
      address={address}
      record={record}
      list={list}
      canChange={canChange}
    />
  );
  if (asTabs) return <RelatedTabs address={address} lists={related.data} show={show} />;
  return (
    <>
      {filled.map(show)}
      {empty.length > 0 && (
        <details>
          <summary className="w-fit cursor-pointer text-faint">No {empty.map((list) => list.label).join(", ")}</summary>
          <div className="mt-2 grid gap-4">{empty.map(show)}</div>
        </details>
      )}
    </>
  );
}

interface RelatedTabsProps {
  address: PanelAddress;
  lists: Schemas["RelatedList"][];
  show: (list: Schemas["RelatedList"]) => ReactNode;
}

// The tab that was looked at last is there again at the next record.
function RelatedTabs({ address, lists, show }: RelatedTabsProps) {
  const place = `plain-porch tab ${address.porch}/${address.panel}`;
  const nameOf = (list: Schemas["RelatedList"]) => `${list.panel} ${list.column}`;
  const [chosen, setChosen] = useState(() => sessionStorage.getItem(place));
  const current = lists.find((list) => nameOf(list) === chosen) ?? lists.find(hasRecords) ?? lists[0];
  if (!current) return null;
  return (
    <Tabs.Root
      value={nameOf(current)}
      onValueChange={(name) => {
        sessionStorage.setItem(place, name);
        setChosen(name);
      }}
    >
      <Tabs.List className="mb-3 flex flex-wrap gap-x-1 border-b border-edge" aria-label="Related records">
        {lists.map((list) => (
          <Tabs.Trigger
            key={nameOf(list)}
            value={nameOf(list)}
            className="-mb-px min-h-9 border-b-2 border-transparent px-3 font-medium text-faint hover:text-ink data-[state=active]:border-accent data-[state=active]:text-ink"
          >
            {list.label} <span className="text-sm font-normal">{countOf(list.count)}</span>
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      <Tabs.Content value={nameOf(current)}>{show(current)}</Tabs.Content>
    </Tabs.Root>
  );
}

const hasRecords = (list: Schemas["RelatedList"]) => list.count.value > 0;

function RelatedList({ address, record, list, canChange }: RelatedRecordsProps & { list: Schemas["RelatedList"] }) {
  const { porch } = address;
  const [isTicking, setTicking] = useState(false);
  const { through } = list;
  const place = `plain-porch related ${porch}/${list.panel}/${list.column}`;
  // What one chose in this tab goes before what the panel says.
  const [isTable, setTable] = useState(() => {
    const chosen = sessionStorage.getItem(place);
    return chosen === null ? list.asList : chosen === "table";
  });
  const turn = () => {
    sessionStorage.setItem(place, isTable ? "titles" : "table");
    setTable(!isTable);
  };
  const of = `?${new URLSearchParams({ of: list.column, value: list.value }).toString()}`;
  const rest = list.count.value - list.records.length;
  return (
    <section aria-label={list.label} className={isTable ? "min-w-0" : "max-w-4xl min-w-0"}>
      <div className="mb-1 flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-base font-semibold">
          {list.label} <span className="font-sans font-normal text-faint">{countOf(list.count)}</span>
        </h2>
        {list.records.length > 0 && (
          <Link className={link} to={panelPath(porch, list.panel) + of}>
            Show as a list
          </Link>
        )}
        {through !== null && canChange && (
          <button
            type="button"
            className={link}
            onClick={() => {
              setTicking(true);
            }}
          >
            Tick …
          </button>
        )}
        {!isTable && list.mayAdd && (
          <Link className={link} to={`${panelPath(porch, list.panel)}/new${of}`}>
            Add one
          </Link>
        )}
        <button type="button" className={link} aria-expanded={isTable} onClick={turn}>
          {isTable ? "Show the titles only" : "Work here"}
        </button>
      </div>
      {isTicking && through !== null && (
        <TickSet
          address={address}
          record={record}
          list={{ ...list, through }}
          onClose={() => {
            setTicking(false);
          }}
        />
      )}
      {isTable && <RelatedTable porch={porch} list={list} />}
      {!isTable && list.records.length > 0 && (
        <ul className="gap-x-8 border-y border-line py-1 sm:columns-2">
          {list.records.map((record, index) => (
            <li key={record.key ?? index} className="truncate py-0.5">
              {record.key === null ? (
                record.title
              ) : (
                <Link className={link} to={recordPath(porch, record.panel, record.key)}>
                  {record.title}
                </Link>
              )}
            </li>
          ))}
          {rest > 0 && <li className="py-0.5 text-faint">and {formatCount(rest)} more</li>}
        </ul>
      )}
    </section>
  );
}

function countOf(count: Schemas["RowCount"]): string {
  if (count.value === 0) return "none";
  return count.certainty === "exact" ? formatCount(count.value) : `more than ${formatCount(count.value)}`;
}
