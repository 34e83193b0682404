import { useQuery } from "@tanstack/react-query";
import type { Column, Panel } from "../../../api/client";
import { totalsQuery, type PanelAddress } from "../../../api/queries";
import { Failure } from "../../../ui/Failure";
import { writeNumber } from "../../../values/numbers";
import type { ListView } from "../../../api/listView";
import { addsUp } from "./columns";

interface TotalRowsProps {
  address: PanelAddress;
  panel: Panel;
  view: ListView;
  columns: Column[];
  /** Cells before the first column. */
  before: number;
}

/** Sum and average of each number column over all that is listed, not only this page. */
export function TotalRows({ address, panel, view, columns, before }: TotalRowsProps) {
  const totals = useQuery(totalsQuery(address, view));
  if (totals.isError)
    return (
      <tr>
        <td colSpan={columns.length + before} className="px-3 py-2">
          <Failure error={totals.error} onRetry={() => void totals.refetch()} />
        </td>
      </tr>
    );
  const first = columns.findIndex((column) => addsUp(panel, column));
  return (["sum", "average"] as const).map((kind) => (
    <tr
      key={kind}
      aria-label={kind === "sum" ? "Sum of all" : "Average of all"}
      className="border-b border-line bg-paper"
    >
      <th
        scope="row"
        colSpan={Math.max(1, first + before)}
        className="px-3 py-1 text-left text-sm font-semibold text-faint"
      >
        {kind === "sum" ? "Sum of all" : "Average"}
        {totals.isPending && " …"}
      </th>
      {columns.slice(Math.max(first, 1 - before)).map((column) => (
        <td key={column.name} className="px-3 py-1 text-right whitespace-nowrap">
          {writeNumber(totals.data?.find((one) => one.column === column.name && addsUp(panel, column))?.[kind] ?? "")}
        </td>
      ))}
    </tr>
  ));
}
