import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Panel, Schemas } from "../../api/client";
import { changeView, defaultView, type ListView } from "../../api/listView";
import { panelQuery } from "../../api/queries";
import { panelPath, recordPath } from "../../paths";
import { ButtonLink } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { RecordList } from "../query/RecordList";

interface RelatedTableProps {
  porch: string;
  list: Schemas["RelatedList"];
  /** Whether there is room for its rows only. */
  isBare?: boolean;
}

/** The related records of one kind as a list to work in: searched, sorted, changed and removed where they are. */
export function RelatedTable({ porch, list, isBare = false }: RelatedTableProps) {
  const panel = useQuery(panelQuery({ porch, panel: list.panel }));
  if (panel.isPending) return <Loading what={list.label} />;
  if (!panel.data) return <Failure error={panel.error} onRetry={() => void panel.refetch()} />;
  return <Table porch={porch} list={list} panel={panel.data} isBare={isBare} />;
}

function Table({ porch, list, panel, isBare }: RelatedTableProps & { panel: Panel; isBare: boolean }) {
  const of = { of: list.column, value: list.value };
  const [own, setView] = useState<ListView>(() => ({
    ...defaultView,
    size: list.pageSize ?? panel.pageSizes[0] ?? defaultView.size,
    sort: list.sort,
    columns:
      list.columns.length > 0
        ? list.columns
        : // All of them belong to the record that they stand with.
          panel.columns.filter((column) => column.inList && column.name !== list.column).map(({ name }) => name),
  }));
  // Beneath another record the search and the order stay, and the page is the first one.
  const [shownFor, setShownFor] = useState(list.value);
  if (shownFor !== list.value) {
    setShownFor(list.value);
    setView((before) => changeView(before, { page: 1, at: "" }));
  }
  const view = { ...own, ...of };
  const navigate = useNavigate();
  return (
    <RecordList
      address={{ porch, panel: list.panel }}
      panel={panel}
      view={view}
      isWithin
      isBare={isBare}
      onChange={(part) => {
        setView((before) => changeView(before, part));
      }}
      onOpen={(row, index) => {
        void navigate(recordPath(porch, list.panel, row.key ?? ""), {
          state: { list: `?${new URLSearchParams(of).toString()}`, row: index },
        });
      }}
      actions={
        panel.canAdd && (
          <ButtonLink to={`${panelPath(porch, list.panel)}/new?${new URLSearchParams(of).toString()}`}>
            Add {panel.recordLabel}
          </ButtonLink>
        )
      }
    />
  );
}
