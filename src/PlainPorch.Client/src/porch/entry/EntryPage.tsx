import { useCallback, useEffect, useRef, useState, type KeyboardEvent } from "react";
import { useNavigate } from "react-router";
import type { Column, Panel } from "../../api/client";
import { nextNumberQuery, type PanelAddress } from "../../api/queries";
import { useQuery } from "@tanstack/react-query";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { panelPath } from "../../paths";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { Tick } from "../../ui/Tick";
import { formatCount, formatMoment } from "../../values/format";
import { inputKind } from "../../values/input";
import { BackToList } from "../query/BackToList";
import { useListState } from "../query/listState";
import { FieldInput } from "../records/FieldInput";
import { LeaveDialog } from "../records/LeaveDialog";
import type { Unsettled } from "../records/useLookup";
import { WithPanel } from "../panels/usePanel";
import { EntryRow } from "./EntryRow";
import { useEntry } from "./useEntry";

/** Enters many records one below the other. */
export function EntryPage() {
  return <WithPanel>{(address, panel) => <Entering address={address} panel={panel} />}</WithPanel>;
}

function Entering({ address, panel }: { address: PanelAddress; panel: Panel }) {
  const from = useListState();
  const numbered = useQuery({ ...nextNumberQuery(address), enabled: panel.canAdd });
  return (
    <div className="grid gap-4">
      <title>{`Add several · ${panel.label}`}</title>
      <BackToList address={address} panel={panel} from={from} />
      <h1 className="text-2xl font-semibold">Add several {panel.label.toLowerCase()}</h1>
      {panel.canAdd && numbered.isPending && <Loading what="the columns" />}
      {numbered.isError && <Failure error={numbered.error} onRetry={() => void numbered.refetch()} />}
      {panel.canAdd && numbered.data && (
        <EntryGrid
          address={address}
          panel={panel}
          numbered={numbered.data.column}
          list={panelPath(address.porch, address.panel) + (from.list ?? "")}
        />
      )}
      {!panel.canAdd && <Notice title={`No ${panel.recordLabel} can be added here.`} />}
    </div>
  );
}

interface EntryGridProps {
  address: PanelAddress;
  panel: Panel;
  /** The column whose numbers the program gives; null for none. */
  numbered: string | null;
  list: string;
}

function EntryGrid({ address, panel, numbered, list }: EntryGridProps) {
  const fields = panel.columns.filter((column) => column.isWritable && inputKind(column, null) !== "checks");
  const usual = fields.filter((column) => (column.inList || column.mustBeGiven) && column.name !== numbered);
  const [showsAll, setShowsAll] = useState(usual.length === 0);
  const columns = showsAll ? fields : usual;
  const entry = useEntry(address, panel, columns);
  const { lines, fixed, isSaving, waiting, done } = entry;
  const grid = useRef<HTMLDivElement>(null);
  const sameUnsettled = useRef<Unsettled>(new Map());
  const navigate = useNavigate();

  const focusCell = useCallback((id: string | undefined, column?: string) => {
    // After the next drawing: the line may be new.
    setTimeout(() => {
      const cells = [...(grid.current?.querySelectorAll<HTMLElement>(`[id^="cell-${CSS.escape(id ?? "")}-"]`) ?? [])];
      const wanted =
        cells.find((cell) => cell.dataset["column"] === column) ??
        cells.find((cell) => cell.getAttribute("aria-invalid") === "true") ??
        cells[0];
      wanted?.focus();
      if (wanted instanceof HTMLInputElement) wanted.select();
    });
  }, []);

  const { addLine } = entry;
  const ids = useRef<string[]>([]);
  useEffect(() => {
    ids.current = lines.filter((line) => line.state !== "saved").map((line) => line.id);
  });
  const down = useCallback(
    (id: string, column: string, steps: number) => {
      addLine();
      setTimeout(() => {
        const to = ids.current[ids.current.indexOf(id) + steps];
        if (to !== undefined) focusCell(to, column);
      });
    },
    [addLine, focusCell],
  );

  useEffect(() => {
    focusCell(ids.current.at(-1));
  }, [focusCell]);

  const save = async () => {
    if (isSaving) return;
    for (const [column, settle] of [...sameUnsettled.current])
      if (!(await settle())) {
        grid.current?.querySelector<HTMLElement>(`[id="same-${CSS.escape(column)}"]`)?.focus();
        return;
      }
    const refused = await entry.save();
    setTimeout(() => {
      focusCell(refused ?? ids.current.at(-1));
    });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if ((event.ctrlKey || event.metaKey) && (event.key === "s" || event.key === "Enter")) {
      event.preventDefault();
      void save();
    } else if (event.key === "Escape" && !event.defaultPrevented) {
      event.preventDefault();
      void navigate(list);
    }
  };

  return (
    <div ref={grid} className="grid gap-3" onKeyDown={onKeyDown}>
      <p className="max-w-prose text-faint">
        Each line becomes a {panel.recordLabel}. Enter goes down, Tab to the right; a block copied from a spreadsheet
        can be pasted. What is typed in the first row is the same on all lines.
      </p>
      {entry.foundAt !== null && (
        <Notice
          title={`What you typed here is still there (${formatMoment(entry.foundAt)}).`}
          actions={
            <>
              <Button
                onClick={() => {
                  entry.forgetFound(true);
                }}
              >
                Go on with it
              </Button>
              <Button
                onClick={() => {
                  entry.forgetFound(false);
                  focusCell(undefined);
                }}
              >
                Discard it
              </Button>
            </>
          }
        />
      )}
      {done && <Outcome done={done} panel={panel} />}
      {entry.pasted && (
        <Notice
          title={`${formatCount(entry.pasted.rows)} ${entry.pasted.rows === 1 ? "line" : "lines"} pasted. Nothing is saved yet.`}
          actions={
            <Button
              onClick={() => {
                entry.undoPaste();
                focusCell(entry.pasted?.into);
              }}
            >
              Undo
            </Button>
          }
        />
      )}
      <div className="relative overflow-x-auto border border-line bg-sheet pb-40">
        <table className="w-full border-collapse text-[15px]">
          <thead>
            <tr className="border-b border-edge text-left text-sm text-faint">
              <td className="w-10" />
              {columns.map((column) => (
                <th key={column.name} scope="col" className="min-w-36 px-2 py-1.5 font-medium">
                  {column.label}
                  {column.mustBeGiven && <span className="font-normal"> · required</span>}
                </th>
              ))}
              <td className="min-w-24" />
            </tr>
            <tr className="border-b-2 border-edge bg-tint align-top">
              <th scope="row" className="px-2 py-1.5 text-right text-sm font-normal text-faint">
                all
              </th>
              {columns.map((column) => (
                <td key={column.name} className="p-0.5">
                  <SameCell
                    address={address}
                    column={column}
                    typed={fixed[column.name] ?? ""}
                    unsettled={sameUnsettled}
                    onType={(text) => {
                      entry.fix(column.name, text === "" ? null : text);
                    }}
                  />
                </td>
              ))}
              <td />
            </tr>
          </thead>
          <tbody>
            {lines.map((line, i) => (
              <EntryRow
                key={line.id}
                address={address}
                columns={columns}
                line={line}
                number={i + 1}
                fixed={fixed}
                unsettled={entry.unsettled}
                onType={entry.type}
                onPaste={entry.paste}
                onDown={down}
                onDrop={entry.drop}
              />
            ))}
          </tbody>
        </table>
      </div>
      <div className="sticky bottom-0 flex flex-wrap items-center gap-2 bg-paper py-3">
        <Button tone="next" disabled={isSaving || waiting === 0} onClick={() => void save()}>
          {isSaving
            ? "Saving …"
            : `Save ${formatCount(waiting)} ${waiting === 1 ? panel.recordLabel : panel.label.toLowerCase()}`}
        </Button>
        <Button onClick={() => void navigate(list)}>Close</Button>
        {usual.length > 0 && usual.length < fields.length && (
          <Tick label="All columns" isOn={showsAll} onTurn={setShowsAll} isSmall />
        )}
        <span className="ml-auto hidden text-sm text-faint sm:inline">Ctrl + S saves, Escape closes</span>
      </div>
      <LeaveDialog
        unsaved={waiting > 0 ? [`${formatCount(waiting)} ${waiting === 1 ? "line" : "lines"}`] : []}
        onDiscard={entry.discard}
      />
    </div>
  );
}

interface SameCellProps {
  address: PanelAddress;
  column: Column;
  typed: string;
  unsettled: React.RefObject<Unsettled>;
  onType: (text: string) => void;
}

/** What is the same on all lines, such as the day of a round of readings. */
function SameCell({ address, column, typed, unsettled, onType }: SameCellProps) {
  return (
    <FieldInput
      id={`same-${column.name}`}
      aria-label={`${column.label}, on all lines`}
      aria-invalid={undefined}
      aria-describedby={undefined}
      address={address}
      column={column}
      kind={inputKind(column, null)}
      typed={typed}
      present={null}
      known={undefined}
      isNew
      unsettled={unsettled}
      onType={onType}
    />
  );
}

function Outcome({ done, panel }: { done: { saved: number; refused: number; stopped: string | null }; panel: Panel }) {
  const saved = `${formatCount(done.saved)} ${done.saved === 1 ? panel.recordLabel : panel.label.toLowerCase()} saved.`;
  if (done.stopped !== null)
    return (
      <Notice tone="danger" title={`${saved} The others are not.`}>
        {done.stopped} Save again once the server is back. Nothing will be saved twice.
      </Notice>
    );
  return done.refused > 0 ? (
    <Notice tone="danger" title={`${saved} ${formatCount(done.refused)} could not be saved.`}>
      What is wrong stands at the cells. Correct it and save again.
    </Notice>
  ) : (
    <Notice title={saved} />
  );
}
