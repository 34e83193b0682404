import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Navigate, useLocation, useNavigate } from "react-router";
import type { ListRow, Panel } from "../../api/client";
import { keptViewsQuery, type PanelAddress } from "../../api/queries";
import { Button, ButtonLink } from "../../ui/Button";
import { later } from "../../ui/later";
import { useMediaQuery } from "../../ui/useMediaQuery";
import type { RecordSheetProps } from "../records/RecordSheet";
import { Loading } from "../../ui/Loading";
import { Notice } from "../../ui/Notice";
import { changeView, defaultView, viewToParams } from "../../api/listView";
import { useListState } from "./listState";
import { sessionQuery } from "../../api/session";
import { importPath, panelPath, recordPath, setAsidePath } from "../../paths";
import { useListView } from "./useListView";
import type { BeneathProps } from "./Beneath";
import { useBeneath } from "./beneath";
import { BeneathChoice } from "./BeneathChoice";
import { ExportMenu } from "../export/ExportMenu";
import { may } from "../panels/rights";
import { changeOf, KeptViews } from "../savedLists/KeptViews";
import { RecordList } from "./RecordList";
import { WithPanel } from "../panels/usePanel";

export function ListPage() {
  return (
    <WithPanel>
      {(address, panel) => <PanelList key={`${address.porch}/${address.panel}`} address={address} panel={panel} />}
    </WithPanel>
  );
}

function PanelList({ address, panel }: { address: PanelAddress; panel: Panel }) {
  const [view, change] = useListView();
  const { search } = useLocation();
  const { row, removed } = useListState();
  const navigate = useNavigate();
  const start = useStart(address, search === "");
  const [sheet, setSheet] = useState<{ key: string | null; number: number } | null>(null);
  const cameFrom = useRef<Element | null>(null);
  const isWide = useMediaQuery("(min-width: 64rem)");
  const isTall = useMediaQuery("(min-width: 64rem) and (min-height: 32rem)");
  const beneath = useBeneath(address, panel.related);
  const [current, setCurrent] = useState<ListRow | null>(null);
  const canImport = (panel.canAdd || panel.canEdit) && may(panel, "add");
  const isDeveloper = useQuery(sessionQuery).data?.person?.isDeveloper === true;
  const hasBeneath = isTall && beneath.kind !== "";
  const hasSheet = isWide && panel.formIn === "sheet";
  const openSheet = (key: string | null) => {
    if (sheet === null) cameFrom.current = document.activeElement;
    setSheet((before) => ({ key, number: (before?.number ?? 0) + 1 }));
  };
  if (start === "waiting") return <Loading what={panel.label} />;
  if (start !== null) return <Navigate to={`?${start}`} replace />;
  const page = (
    <div className="grid min-w-0 gap-4">
      <title>{`${panel.label} · ${panel.porch}`}</title>
      <h1 className="text-2xl font-semibold max-lg:sr-only">{panel.label}</h1>
      {panel.notEditable && <Notice title="Read-only">These records can be looked at here, and not changed.</Notice>}
      <div className={hasBeneath ? "[&_nav]:bottom-[38dvh] [&_tr]:scroll-mb-[46dvh]" : undefined}>
        <RecordList
          address={address}
          panel={panel}
          view={view}
          onChange={change}
          onOpen={(opened, index) => {
            if (hasSheet && panel.canEdit && opened.key !== null) {
              openSheet(opened.key);
              return;
            }
            void navigate(recordPath(address.porch, address.panel, opened.key ?? ""), {
              state: { list: search, row: index },
            });
          }}
          startRow={row ?? null}
          removed={removed ?? null}
          takesFocus
          {...(hasBeneath && { onCurrent: setCurrent })}
          shownKey={hasSheet && sheet !== null ? sheet.key : hasBeneath ? (current?.key ?? null) : null}
          looks={isTall && <BeneathChoice kinds={panel.related} chosen={beneath.kind} onChoose={beneath.choose} />}
          actions={
            <>
              <KeptViews address={address} view={view} onChange={change} />
              {may(panel, "export") && (
                <ExportMenu
                  address={address}
                  view={view}
                  importTo={canImport ? importPath(address.porch, address.panel) : null}
                />
              )}
              {!may(panel, "export") && canImport && (
                <ButtonLink to={importPath(address.porch, address.panel)}>Import</ButtonLink>
              )}
              {may(panel, "seeSetAside") && (panel.canRemove || panel.hasMarker) && panel.manner !== "erase" && (
                <ButtonLink to={setAsidePath(address.porch, address.panel)}>What is set aside</ButtonLink>
              )}
              {panel.findsDuplicates && (
                <ButtonLink to={`${panelPath(address.porch, address.panel)}/duplicates`}>Duplicates</ButtonLink>
              )}
              {isDeveloper && <ButtonLink to={`/back/panels/${address.porch}/${address.panel}`}>Set up</ButtonLink>}
              {panel.canAdd && hasSheet && (
                <Button
                  tone="next"
                  onClick={() => {
                    openSheet(null);
                  }}
                >
                  Add {panel.recordLabel}
                </Button>
              )}
              {panel.canAdd && !hasSheet && (
                <ButtonLink tone="next" to={`${panelPath(address.porch, address.panel)}/new`} state={{ list: search }}>
                  Add {panel.recordLabel}
                </ButtonLink>
              )}
            </>
          }
        />
      </div>
      {hasBeneath && <BeneathPart.Part address={address} panel={panel} row={current} kind={beneath.kind} />}
    </div>
  );
  const isOpen = hasSheet && sheet !== null;
  return (
    <div className={isOpen ? "grid grid-cols-[minmax(0,1fr)_26rem] items-start gap-6" : ""}>
      {page}
      {isOpen && (
        <RecordSheet.Part
          address={address}
          panel={panel}
          recordKey={sheet.key}
          number={sheet.number}
          view={view}
          onGo={openSheet}
          onClose={() => {
            setSheet(null);
            const { current } = cameFrom;
            // The list is drawn anew around it.
            requestAnimationFrame(() => {
              if (current instanceof HTMLElement) current.focus();
            });
          }}
        />
      )}
    </div>
  );
}

const BeneathPart = later<BeneathProps>("beneath", async () => (await import("./Beneath")).Beneath);

const RecordSheet = later<RecordSheetProps>(
  "record sheet",
  async () => (await import("../records/formPages")).RecordSheet,
);

/** The address part of the list that the panel opens with, where none was asked for; null for the panel's own. */
function useStart(address: PanelAddress, isBare: boolean): string | null {
  const views = useQuery({ ...keptViewsQuery(address), enabled: isBare });
  if (!isBare) return null;
  // Without an answer the panel's own list does as well.
  if (views.isPending) return "waiting";
  const start = views.data?.find((view) => view.isStart);
  const params = start ? viewToParams(changeView(defaultView, changeOf(start.view))).toString() : "";
  return params === "" ? null : params;
}
