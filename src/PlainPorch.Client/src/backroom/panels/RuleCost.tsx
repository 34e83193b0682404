import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { formatCount } from "../../values/format";
import { ruleCostQuery } from "./ruleQueries";

interface RuleCostProps {
  address: PanelAddress;
  text: string;
  type: Schemas["RuleTrial"]["type"];
}

/** What an expression costs in a list: measured once somebody wants to know. */
export function RuleCost({ address, text, type }: RuleCostProps) {
  const [isOpen, setOpen] = useState(false);
  const what = type === "truth" ? "Finding the records of which it is true" : "Sorting by it";
  return (
    <details
      open={isOpen}
      onToggle={({ currentTarget }) => {
        setOpen(currentTarget.open);
      }}
    >
      <summary className="w-fit cursor-pointer text-faint">What it costs in a list</summary>
      {isOpen && <Cost address={address} text={text} what={what} />}
    </details>
  );
}

function Cost({ address, text, what }: { address: PanelAddress; text: string; what: string }) {
  const cost = useQuery({ ...ruleCostQuery(address, text), placeholderData: (before) => before });
  if (cost.isError) return <p className="text-danger">{cost.error.message}</p>;
  if (!cost.data || cost.isPlaceholderData) return <p className="text-faint">Reading the first page …</p>;
  const { milliseconds, slow, indexes, advice } = cost.data;
  return (
    <div className="grid gap-1 py-1">
      <p>
        {what}: the first page{" "}
        {milliseconds === null
          ? "takes longer than 3 seconds."
          : `took ${milliseconds < 1 ? "less than 1" : formatCount(Math.round(milliseconds))} ms.`}
      </p>
      {slow.map((line) => (
        <p key={line}>{line}</p>
      ))}
      {indexes.length > 0 && (
        <p className="text-faint">
          Read from the {indexes.length === 1 ? "index" : "indexes"} {indexes.join(", ")}.
        </p>
      )}
      {advice.map(({ sql, reason }) => (
        <div key={sql}>
          <p>{reason}</p>
          <pre className="overflow-x-auto border border-line bg-paper p-2 text-xs">{sql};</pre>
        </div>
      ))}
      {slow.length > 0 && advice.length === 0 && <p>No index would serve it: it is computed for all records.</p>}
    </div>
  );
}
