import { useQuery } from "@tanstack/react-query";
import { aboveQuery, type PanelAddress } from "../../api/queries";
import { LookupValue } from "./LookupValue";

interface AboveProps {
  address: PanelAddress;
  /** The record's key. */
  record: string;
  label: string;
}

/** The way to a record from the topmost one that stands above it. */
export function Above({ address, record, label }: AboveProps) {
  const above = useQuery(aboveQuery(address, record));
  if (!above.data || above.data.records.length === 0) return null;
  return (
    <nav aria-label={label} className="text-sm">
      {above.data.isCircle && (
        <p className="font-medium text-danger">These records stand above each other in a circle. Change one of them.</p>
      )}
      <ol className="flex flex-wrap gap-x-1.5">
        {above.data.hasMore && <li>… /</li>}
        {above.data.records.map((title, at) => (
          <li key={at}>
            <LookupValue porch={address.porch} title={title} value={title.title} /> /
          </li>
        ))}
      </ol>
    </nav>
  );
}
