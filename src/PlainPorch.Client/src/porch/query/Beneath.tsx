import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { ListRow, Panel, Schemas } from "../../api/client";
import { panelPath } from "../../paths";
import { relatedQuery, type PanelAddress } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { useSettled } from "../../ui/useSettled";
import { RelatedTable } from "../records/RelatedTable";
import { kindName } from "./beneath";

export interface BeneathProps {
  address: PanelAddress;
  panel: Panel;
  /** The row of the list that one is at; null for none. */
  row: ListRow | null;
  /** Which kind of related records is shown, as `kindName` tells it. */
  kind: string;
}

// Whoever holds an arrow key down asks for nothing on the way.
const PAUSE_MS = 200;

function WaysOf({ porch, list }: { porch: string; list: Schemas["RelatedList"] }) {
  const of = `?${new URLSearchParams({ of: list.column, value: list.value }).toString()}`;
  return (
    <>
      <Link className="link text-sm" to={panelPath(porch, list.panel) + of}>
        Show as a list
      </Link>
      <Link className="link text-sm" to={`${panelPath(porch, list.panel)}/new${of}`}>
        Add one
      </Link>
    </>
  );
}

/** Beneath a list: the related records of the row that one is at, following it. */
export function Beneath({ address, panel, row, kind }: BeneathProps) {
  const settled = useSettled(row, PAUSE_MS);
  const related = useQuery({
    ...relatedQuery(address, settled?.key ?? ""),
    enabled: settled?.key != null,
    placeholderData: (before) => before,
  });
  const list = related.data?.find((one) => kindName(one) === kind);
  const label = panel.related.find((one) => kindName(one) === kind)?.label ?? "";
  return (
    <section
      aria-label={settled ? `${label} of ${settled.title}` : label}
      aria-busy={related.isPlaceholderData || settled !== row}
      className="sticky bottom-0 z-20 h-[38dvh] overflow-y-auto border-t-4 border-edge bg-paper py-2"
    >
      <div className="mb-2 flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-base font-semibold">
          {label} {settled && <span className="font-normal text-faint">of {settled.title}</span>}
        </h2>
        {list && <WaysOf porch={address.porch} list={list} />}
      </div>
      {related.isError && <Failure error={related.error} onRetry={() => void related.refetch()} />}
      {related.isPending && settled && <Loading what={label} />}
      {!settled && <p className="text-faint">Go to a row of the list above.</p>}
      {list && <RelatedTable porch={address.porch} list={list} isBare />}
      {related.data && !list && <p className="text-faint">Nothing can refer to this record.</p>}
    </section>
  );
}
