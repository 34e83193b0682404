import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { brokenPath } from "../../paths";
import { Button } from "../../ui/Button";
import { formatCount } from "../../values/format";
import { proposedChecksQuery } from "./ruleQueries";

type Check = Schemas["RecordCheck"];

interface ProposedChecksProps {
  address: PanelAddress;
  proposed: Schemas["ProposedCheck"][];
  onTake: (check: Check) => void;
}

/** What the survey saw nearly all records keep to, without the checks that the panel has, saved or not. */
export function useProposedChecks(address: PanelAddress, present: Check[]) {
  const { data } = useQuery(proposedChecksQuery(address));
  return (data ?? []).filter(
    ({ check }) => !present.some(({ name, condition }) => name === check.name || condition === check.condition),
  );
}

/** Proposals, each taken over by one key. */
export function ProposedChecks({ address, proposed, onTake }: ProposedChecksProps) {
  const list = useRef<HTMLUListElement>(null);
  return (
    <section aria-label="Proposed by the data" className="grid gap-2">
      <h4 className="text-sm font-medium">Proposed by the data</h4>
      <ul ref={list} className="grid gap-3">
        {proposed.map(({ check, records, broken, isCounted, indexOn }, place) => (
          <li key={check.name} className="flex flex-wrap items-start gap-x-4 gap-y-1">
            <Button
              onClick={() => {
                onTake(check);
                // The next one comes to its place.
                setTimeout(() => {
                  const buttons = list.current?.querySelectorAll("button") ?? [];
                  (buttons[place] ?? buttons[place - 1])?.focus();
                });
              }}
            >
              Take it
            </Button>
            <div className="min-w-0 flex-1">
              <p>{check.message}</p>
              <p className="font-mono text-sm break-words">{check.condition}</p>
              <p className="text-sm text-faint">
                {broken === 0 ? "All" : `${formatCount(records - broken)} of the`} {formatCount(records)} records
                {isCounted ? "" : " that were looked at"} keep to it.{" "}
                {indexOn !== null &&
                  `It takes an index on ${indexOn} ${broken > 0 ? "to find the others, and " : ""}to check it in no time.`}
                {broken > 0 && indexOn === null && (
                  <Link className="link" to={brokenPath(address.porch, address.panel, check.condition)}>
                    Show the {formatCount(broken)} that {broken === 1 ? "does" : "do"} not
                  </Link>
                )}
              </p>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
