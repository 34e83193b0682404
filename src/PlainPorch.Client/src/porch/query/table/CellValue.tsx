import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Column, ListRow, LookupTitle } from "../../../api/client";
import { recordQuery, type PanelAddress } from "../../../api/queries";
import { Failure } from "../../../ui/Failure";
import { PopoverPanel } from "../../../ui/PopoverPanel";
import { formatValue } from "../../../values/format";
import { RecordLink } from "./RecordLink";
import { LookupValue } from "../../records/LookupValue";
import { filePath, nameIn, pathsIn } from "../../records/files";
import { Picture } from "../../records/Picture";
import { Unfit } from "../../records/Unfit";
import { phoneLink } from "../../../values/links";

interface CellValueProps {
  address: PanelAddress;
  column: Column;
  row: ListRow;
  text: string | null;
  /** How the record is called that it refers to. */
  title: LookupTitle | undefined;
  /** Whether it is the link to the row's record. */
  isLink?: boolean;
  /** Whether it does not fit what the column means. */
  isUnfit?: boolean;
}

// A longer text is likely cut by the column's width.
const LONG = 40;

/** A value in a list, shown by what it is. */
export function CellValue({ address, column, row, text, title, isLink = false, isUnfit = false }: CellValueProps) {
  if (text === null) return null;
  if (isUnfit) return <Unfit>{isLink ? <RecordLink address={address} row={row} shown={text} /> : text}</Unfit>;
  if (column.isLookup) return <LookupValue porch={address.porch} title={title} value={text} tabIndex={-1} />;
  if (column.holdsPaths) return <CellFiles address={address} column={column} row={row} text={text} />;
  if (column.isPicture && row.key !== null)
    return <Picture address={address} record={row.key} title={row.title} column={column} bytes={text} size={96} />;
  const link = linkOf(column, text);
  if (link)
    return (
      <a
        href={link}
        tabIndex={-1}
        target="_blank"
        rel="noreferrer"
        className="link"
        onClick={(event) => {
          event.stopPropagation();
        }}
      >
        {text}
      </a>
    );
  const shown = formatValue(column, text);
  const value = isLink ? <RecordLink address={address} row={row} shown={shown} /> : shown;
  if (shown.length <= LONG || row.key === null) return value;
  return (
    <span className="flex items-baseline">
      <span className="min-w-0 truncate">{value}</span>
      <WholeText address={address} record={row.key} column={column} shown={shown} />
    </span>
  );
}

interface CellFilesProps {
  address: PanelAddress;
  column: Column;
  row: ListRow;
  text: string;
}

/** The files whose paths a value holds: the first as a picture or by its name, and how many more there are. */
function CellFiles({ address, column, row, text }: CellFilesProps) {
  const [first, ...more] = pathsIn(column, text);
  if (first === undefined) return null;
  const { key } = row;
  return (
    <span className="flex items-center gap-1.5">
      {key === null ? (
        nameIn(first)
      ) : column.isPicture ? (
        <Picture address={address} record={key} title={row.title} column={column} bytes={first} size={96} />
      ) : (
        <a
          className="link min-w-0 truncate"
          tabIndex={-1}
          href={filePath(address, key, column.name)}
          download
          onClick={(event) => {
            event.stopPropagation();
          }}
        >
          {nameIn(first)}
        </a>
      )}
      {more.length > 0 && <span className="text-faint">+{more.length}</span>}
    </span>
  );
}

interface WholeTextProps {
  address: PanelAddress;
  record: string;
  column: Column;
  shown: string;
}

/** The whole of a long text, fetched when somebody asks for it. */
function WholeText({ address, record, column, shown }: WholeTextProps) {
  const [isOpen, setOpen] = useState(false);
  const whole = useQuery({ ...recordQuery(address, record), enabled: isOpen });
  return (
    <PopoverPanel
      label={`Whole text of ${column.label}`}
      align="start"
      isOpen={isOpen}
      onOpenChange={setOpen}
      className="max-h-96 w-lg p-3"
      trigger={
        <button
          type="button"
          tabIndex={-1}
          aria-label={`Whole text of ${column.label}`}
          title={`Whole text of ${column.label}`}
          className="shrink-0 rounded px-1 text-faint hover:bg-tint"
          onClick={(event) => {
            event.stopPropagation();
          }}
        >
          ▾
        </button>
      }
    >
      {whole.isError ? (
        <Failure error={whole.error} onRetry={() => void whole.refetch()} />
      ) : (
        <p
          className="break-words whitespace-pre-wrap"
          onClick={(event) => {
            event.stopPropagation();
          }}
        >
          {whole.data ? formatValue(column, whole.data.values[column.name]) : shown}
        </p>
      )}
    </PopoverPanel>
  );
}

/** Where a text leads, if it is an address. */
function linkOf(column: Column, text: string): string | null {
  if (column.kind !== "text") return null;
  if (column.look?.as === "phone") return phoneLink(text);
  if (/^https?:\/\/\S+$/i.test(text)) return text;
  return /^[^\s@<>"]+@[^\s@<>"]+\.[^\s@<>"]+$/.test(text) ? `mailto:${text}` : null;
}
