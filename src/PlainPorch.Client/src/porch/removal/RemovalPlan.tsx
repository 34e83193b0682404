import { useInfiniteQuery } from "@tanstack/react-query";
import { AlertDialog } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import type { Panel, Schemas } from "../../api/client";
import { affectedQuery, type PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { formatCount, formatValue, formatDay } from "../../values/format";
import { defaultView, viewToParams } from "../../api/listView";
import { panelPath, recordPath } from "../../paths";
import { TriggerNote } from "./TriggerNote";
import { someOf } from "./words";

interface RemovalPlanProps {
  address: PanelAddress;
  panel: Panel;
  /** The records that are to be removed. */
  keys: string[];
  forGood: boolean;
  proposal: Schemas["RemovalProposal"];
}

/** What a removal would do: the records by what people recognize them, what goes along, what stays, what forbids it. */
export function RemovalPlan({ address, panel, keys, forGood, proposal }: RemovalPlanProps) {
  const asked = { address, keys, forGood };
  const isForbidden = proposal.forbidding.length > 0;
  return (
    <div className="mt-2 grid gap-3">
      <AlertDialog.Description>{describe(panel, proposal, isForbidden)}</AlertDialog.Description>
      {proposal.notFound > 0 && (
        <p className="text-faint">
          {formatCount(proposal.notFound)} of the selected records no longer exist, or are already set aside.
        </p>
      )}
      <Records panel={panel} proposal={proposal} />
      {isForbidden ? (
        <Affected asked={asked} title="Held by" parts={proposal.forbidding} says={() => "refer to it"} leads />
      ) : (
        <>
          <Affected
            asked={asked}
            title="Goes along"
            parts={proposal.along}
            says={(part) =>
              part.act === "mark"
                ? "set aside as well"
                : part.act === "erase"
                  ? "erased as well"
                  : "taken out of their table, so other programs no longer find them"
            }
          />
          <Affected
            asked={asked}
            title="Stays, with its reference emptied"
            parts={proposal.detached}
            says={(part) => (part.byDatabase ? "by a rule of the database" : "the reference is emptied")}
            leads
          />
          <Affected
            asked={asked}
            title="Stays and goes on referring to it"
            parts={proposal.left}
            says={() => "show its name struck through"}
            leads
          />
          <Affected
            asked={asked}
            title="Stays in its table, but is hidden here"
            parts={proposal.hidden}
            says={() => "other programs still find it"}
          />
        </>
      )}
      <TriggerNote triggers={proposal.triggers} />
    </div>
  );
}

function describe(panel: Panel, proposal: Schemas["RemovalProposal"], isForbidden: boolean): string {
  if (proposal.problem) return proposal.problem;
  const [it, stays, is] = proposal.chosen === 1 ? ["It", "stays", "is"] : ["They", "stay", "are"];
  if (isForbidden)
    return `${it} ${stays} in ${panel.label} as long as other records refer to ${proposal.chosen === 1 ? "it" : "them"}.`;
  if (!proposal.canBeBroughtBack) return `${it} cannot be brought back.`;
  const back = proposal.eraseAt
    ? `${it} can be brought back until ${formatDay(proposal.eraseAt)}.`
    : `${it} can be brought back at any time.`;
  return proposal.manner === "mark"
    ? `${it} ${stays} in the table, marked as set aside. ${back}`
    : `${it} ${is} taken out of the table: other programs no longer find ${proposal.chosen === 1 ? "it" : "them"} there. ${back}`;
}

function Records({ panel, proposal }: { panel: Panel; proposal: Schemas["RemovalProposal"] }) {
  const more = proposal.chosen - proposal.records.length;
  return (
    <ul className="border-t border-line">
      {proposal.records.map((record) => (
        <li key={record.key} className="border-b border-line py-1.5">
          <p className="font-semibold">{record.title}</p>
          <dl className="flex flex-wrap gap-x-4 text-sm">
            {record.values.map(({ column: name, value, isTitle }) => {
              const column = panel.columns.find((one) => one.name === name);
              return (
                <div key={name} className="flex gap-1.5">
                  <dt className="text-faint">{column?.label ?? name}</dt>
                  <dd>{isTitle || !column ? value : formatValue(column, value)}</dd>
                </div>
              );
            })}
          </dl>
        </li>
      ))}
      {more > 0 && <li className="border-b border-line py-1.5 text-faint">and {formatCount(more)} more</li>}
    </ul>
  );
}

interface Asked {
  address: PanelAddress;
  keys: string[];
  forGood: boolean;
}

interface AffectedProps {
  asked: Asked;
  title: string;
  parts: Schemas["AffectedRecords"][];
  says: (part: Schemas["AffectedRecords"]) => string;
  /** Whether the list of them can be gone to. */
  leads?: boolean;
}

function Affected({ asked, title, parts, says, leads = false }: AffectedProps) {
  if (parts.length === 0) return null;
  return (
    <section aria-label={title}>
      <h3 className="font-sans text-sm font-semibold text-faint">{title}</h3>
      <ul>
        {parts.map((part) => (
          <li key={part.part}>
            <details className="py-0.5">
              <summary className="cursor-pointer">
                <strong className="font-semibold">{someOf(part.count, part.label)}</strong>{" "}
                <span className="text-faint">{says(part)}</span>
              </summary>
              <AffectedList asked={asked} part={part} />
            </details>
            {leads && part.panel && part.column && part.value !== null && (
              <Link
                className="ml-5 link"
                to={`${panelPath(asked.address.porch, part.panel)}?${viewToParams({ ...defaultView, of: part.column, value: part.value }).toString()}`}
              >
                Open these in {part.label}
              </Link>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The records of one part: the first by their names, and all of them when they are wanted. */
function AffectedList({ asked, part }: { asked: Asked; part: Schemas["AffectedRecords"] }) {
  const [isWhole, setWhole] = useState(false);
  const pages = useInfiniteQuery({
    ...affectedQuery(asked.address, asked.keys, asked.forGood, part.part),
    enabled: isWhole,
  });
  const records = pages.data?.pages.flatMap((page) => page.records) ?? [];
  if (!pages.data)
    return (
      <>
        <ul className="ml-5 list-disc text-sm">
          {part.titles.map((one, place) => (
            <li key={place}>{one}</li>
          ))}
        </ul>
        {pages.isError && <Failure error={pages.error} onRetry={() => void pages.refetch()} />}
        {(part.count > part.titles.length || part.panel !== null) && (
          <Button
            className="mt-1 ml-5"
            disabled={pages.isFetching}
            onClick={() => {
              setWhole(true);
            }}
          >
            {part.count === 1 ? "Show it" : `Show all ${formatCount(part.count)}`}
          </Button>
        )}
      </>
    );
  return (
    <div
      ref={focus}
      className="ml-5 max-h-60 overflow-y-auto border-y border-line"
      tabIndex={0}
      role="group"
      aria-label={part.label}
    >
      <ul className="text-sm">
        {records.map((record, place) => (
          <li key={place} className="py-0.5">
            {part.panel && record.key !== null ? (
              <Link
                className="inline-block min-h-6 link"
                to={recordPath(asked.address.porch, part.panel, record.key)}
                target="_blank"
              >
                {record.title}
                <span className="sr-only"> (in a new tab)</span>
              </Link>
            ) : (
              record.title
            )}
          </li>
        ))}
      </ul>
      {pages.hasNextPage && (
        <Button className="my-1" disabled={pages.isFetchingNextPage} onClick={() => void pages.fetchNextPage()}>
          {pages.isFetchingNextPage ? "Reading …" : `Show more of ${formatCount(part.count)}`}
        </Button>
      )}
    </div>
  );
}

// The button that asked for it is gone.
function focus(element: HTMLElement | null) {
  element?.focus();
}
