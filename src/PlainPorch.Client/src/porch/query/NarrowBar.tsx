import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Column, Panel, Schemas } from "../../api/client";
import { valuesQuery, type PanelAddress } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { PopoverPanel } from "../../ui/PopoverPanel";
import { formatCount, formatValue } from "../../values/format";
import type { ChangeView, ListView } from "../../api/listView";
import { tidyPath } from "../../paths";
import { narrowedTo, rangeText, readRange, toggled, without } from "./narrowing";

type Value = Schemas["NarrowingValue"];

const MANY = 12;

interface NarrowBarProps {
  address: PanelAddress;
  panel: Panel;
  view: ListView;
  onChange: ChangeView;
}

/** One button for each column that narrows the list; what is chosen stands on it, and can be taken off at once. */
export function NarrowBar({ address, panel, view, onChange }: NarrowBarProps) {
  const columns = panel.columns.filter((column) => column.narrows);
  if (columns.length === 0) return null;
  return (
    <div role="group" aria-label="Narrow the list" className="flex flex-wrap items-center gap-2 tight:flex-nowrap">
      {columns.map((column) => (
        <NarrowButton
          key={column.name}
          address={address}
          canTidy={panel.canTidy}
          column={column}
          view={view}
          onChange={onChange}
        />
      ))}
    </div>
  );
}

interface NarrowButtonProps {
  address: PanelAddress;
  canTidy: boolean;
  column: Column;
  view: ListView;
  onChange: ChangeView;
}

function NarrowButton({ address, canTidy, column, view, onChange }: NarrowButtonProps) {
  const [isOpen, setOpen] = useState(false);
  const [text, setText] = useState("");
  const chosen = narrowedTo(view, column.name);
  // Counting is asked of the database only when somebody looks, or to name what is chosen.
  const quick = useQuery({
    ...valuesQuery(address, column.name, view, text, true),
    enabled: isOpen || chosen.length > 0,
  });
  const exact = useQuery({
    ...valuesQuery(address, column.name, view, text),
    enabled: isOpen && quick.data?.isAbout === true,
  });
  const values = exact.data && !exact.isPlaceholderData && quick.data?.isAbout ? exact : quick;
  const nameOf = (value: string | null) =>
    labelOf(
      column,
      values.data?.values.find((known) => known.value === value),
      value,
    );
  const shape = "min-h-8 border text-[15px]";
  return (
    <span className="inline-flex">
      <PopoverPanel
        label={`Narrow by ${column.label}`}
        align="start"
        className="w-72 p-1 sm:w-96"
        isOpen={isOpen}
        onOpenChange={(open) => {
          setOpen(open);
          setText("");
        }}
        trigger={
          <button
            type="button"
            className={`${shape} max-w-80 truncate px-3 font-medium hover:bg-tint ${
              chosen.length > 0 ? "rounded-l border-accent bg-accent-tint" : "rounded border-edge bg-sheet text-ink"
            }`}
          >
            {column.label}
            {chosen.length > 0 && <strong className="font-semibold">: {chosen.map(nameOf).join(", ")}</strong>}
          </button>
        }
      >
        {values.isPending && <p className="p-2 text-faint">Counting …</p>}
        {values.isError && <Failure error={values.error} onRetry={() => void values.refetch()} />}
        {values.data && (
          <Values
            address={address}
            canTidy={canTidy && column.isWritable}
            column={column}
            found={values.data}
            isCounting={values === quick && exact.isFetching}
            chosen={chosen}
            text={text}
            onText={setText}
            onToggle={(value) => {
              onChange({ narrowed: toggled(view, column.name, value) });
            }}
            isUnfit={view.unfit.includes(column.name)}
            onUnfit={(isOn) => {
              onChange({
                unfit: isOn ? [...view.unfit, column.name] : view.unfit.filter((name) => name !== column.name),
              });
            }}
          />
        )}
      </PopoverPanel>
      {chosen.length > 0 && (
        <button
          type="button"
          aria-label={`Show all of ${column.label}`}
          title={`Show all of ${column.label}`}
          onClick={() => {
            onChange({ narrowed: without(view, column.name) });
          }}
          className={`${shape} -ml-px w-8 rounded-r border-accent bg-accent-tint hover:bg-tint`}
        >
          ×
        </button>
      )}
    </span>
  );
}

interface ValuesProps {
  address: PanelAddress;
  /** Whether values of the column can be made one. */
  canTidy: boolean;
  column: Column;
  found: Schemas["NarrowingValues"];
  /** Whether exact numbers are on their way. */
  isCounting: boolean;
  chosen: (string | null)[];
  /** What the values have to hold; "" for the most frequent ones. */
  text: string;
  onText: (text: string) => void;
  onToggle: (value: string | null) => void;
  /** Whether just what does not fit is shown. */
  isUnfit: boolean;
  onUnfit: (isOn: boolean) => void;
}

function Values({
  address,
  canTidy,
  column,
  found,
  isCounting,
  chosen,
  text,
  onText,
  onToggle,
  isUnfit,
  onUnfit,
}: ValuesProps) {
  const ranges = found.ranges.map((range) => ({ ...range, text: rangeText(range.from, range.until) }));
  const known: (string | null)[] = [...found.values.map((one) => one.value), ...ranges.map((range) => range.text)];
  // What is chosen and no longer counted has to stay in reach, to be taken off.
  const lost = text === "" ? chosen.filter((value) => !known.includes(value)) : [];
  const shown: Value[] = [...found.values, ...lost.map((value) => ({ value, title: null, count: 0 }))];
  const most = Math.max(1, ...ranges.map((range) => range.count));
  return (
    <>
      {(found.hasMore || shown.length > MANY || text !== "") && (
        <input
          type="search"
          aria-label={`Find a value of ${column.label}`}
          placeholder="Find a value"
          value={text}
          maxLength={100}
          onChange={(event) => {
            onText(event.target.value);
          }}
          className="mb-1 min-h-8 w-full rounded border border-edge bg-sheet px-2 placeholder:text-faint"
        />
      )}
      {shown.length + ranges.length === 0 && found.unfit === 0 && (
        <p className="p-2 text-faint">{text === "" ? "No records have a value here." : "No matching value."}</p>
      )}
      <ul>
        {ranges.map((range) => (
          <Choice
            key={range.text}
            label={labelOf(column, undefined, range.text)}
            count={countText(range.count, found.isAbout)}
            share={range.count / most}
            isChosen={chosen.includes(range.text)}
            onToggle={() => {
              onToggle(range.text);
            }}
          />
        ))}
        {shown.map((one) => (
          <Choice
            key={one.value ?? "\u0000"}
            label={labelOf(column, one, one.value)}
            count={countText(one.count, found.isAbout)}
            isChosen={chosen.includes(one.value)}
            onToggle={() => {
              onToggle(one.value);
            }}
          />
        ))}
        {(found.unfit > 0 || isUnfit) && (
          <Choice
            label="does not fit"
            count={countText(found.unfit, found.isAbout)}
            isChosen={isUnfit}
            onToggle={() => {
              onUnfit(!isUnfit);
            }}
          />
        )}
      </ul>
      {canTidy && (found.unfit > 0 || (column.kind === "text" && !column.isLookup)) && (
        <p className="p-2 text-sm">
          <Link to={tidyPath(address.porch, address.panel, column.name)} className="link">
            {found.unfit > 0 ? "Tidy what does not fit" : "Tidy the spellings"}
          </Link>
        </p>
      )}
      {found.isAbout && (
        <p role="status" className="p-2 text-sm text-faint">
          {isCounting ? "Estimated from a sample; counting exactly …" : "Estimated from a sample."}
        </p>
      )}
      {found.hasMore && <p className="p-2 text-sm text-faint">The most frequent values. Type to find others.</p>}
    </>
  );
}

interface ChoiceProps {
  label: string;
  count: string;
  /** How long its bar is, from 0 to 1; undefined for none. */
  share?: number;
  isChosen: boolean;
  onToggle: () => void;
}

function Choice({ label, count, share, isChosen, onToggle }: ChoiceProps) {
  return (
    <li>
      <label className="relative flex min-h-8 cursor-pointer items-center gap-2 rounded px-1.5 hover:bg-paper">
        <input type="checkbox" className="size-5 shrink-0 accent-accent" checked={isChosen} onChange={onToggle} />
        <span className="min-w-0 flex-1 truncate" title={label}>
          {label}
        </span>
        <span className="text-sm text-faint">{count}</span>
        {share !== undefined && (
          <span aria-hidden className="absolute bottom-0.5 left-9 h-0.5 bg-edge" style={{ width: `${share * 80}%` }} />
        )}
      </label>
    </li>
  );
}

function countText(count: number, isAbout: boolean): string {
  return isAbout ? `about ${formatCount(count)}` : formatCount(count);
}

function labelOf(column: Column, known: Value | undefined, value: string | null): string {
  if (value === null) return "none";
  const range = readRange(value);
  if (known === undefined && range !== null && column.kind !== "text") {
    const [from, until] = [range.from, range.until].map((bound) =>
      bound === null ? null : formatValue(column, bound) || bound,
    );
    if (from === null) return `under ${until ?? ""}`;
    return until === null ? `${from ?? ""} and more` : `${from ?? ""} to under ${until}`;
  }
  return known?.title ?? (formatValue(column, value) || value);
}
