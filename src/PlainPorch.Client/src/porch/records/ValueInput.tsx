import type { HTMLAttributes } from "react";
import type { Column } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { inputClass, type FieldSlots } from "../../ui/Field";
import { formatValue } from "../../values/format";
import type { InputKind } from "../../values/input";
import { DateInput } from "../../ui/DateInput";
import { Checks } from "./Checks";
import { ColourInput } from "./ColourInput";
import { EarlierInput } from "./EarlierInput";
import { Rating } from "./Rating";
import { Segments } from "./Segments";

interface ValueInputProps extends FieldSlots {
  address: PanelAddress;
  column: Column;
  kind: InputKind;
  typed: string;
  /** The value as the record has it, for what is only shown. */
  present: string | null;
  isNew: boolean;
  onType: (typed: string) => void;
}

/** The input that fits a column. */
export function ValueInput({ address, column, kind, typed, present, isNew, onType, ...slots }: ValueInputProps) {
  const common = {
    ...slots,
    value: typed,
    className: inputClass,
    "data-column": column.name,
    onChange: (event: { target: { value: string } }) => {
      onType(event.target.value);
    },
  };
  if (!column.isWritable || kind === "shown") {
    const shown = formatValue(column, present);
    return (
      <output {...slots} className="block min-h-9 py-1.5 break-words whitespace-pre-wrap text-faint">
        {shown === "" ? (isNew && column.isSupplied ? "filled in by the database" : "–") : shown}
      </output>
    );
  }
  switch (kind) {
    case "paragraph":
      return <textarea {...common} rows={1} className={`${inputClass} field-sizing-content max-h-80`} />;
    case "checks":
      return <Checks {...slots} column={column} typed={typed} onType={onType} />;
    case "lines":
      return <textarea {...common} rows={3} className={`${inputClass} field-sizing-content`} />;
    case "json":
      return (
        <textarea
          {...common}
          rows={3}
          spellCheck={false}
          className={`${inputClass} field-sizing-content font-mono text-sm`}
        />
      );
    case "number":
    case "decimal":
      return (
        <input {...common} inputMode="decimal" autoComplete="off" className={`${inputClass} max-w-48 text-right`} />
      );
    case "month":
      return <input {...common} data-reads="month" autoComplete="off" className={`${inputClass} max-w-48`} />;
    case "date":
    case "dateTime":
    case "moment":
    case "time":
      return <DateInput {...slots} data-column={column.name} kind={kind} value={typed} onType={onType} />;
    case "segments":
      return <Segments {...slots} column={column} typed={typed} present={present} isNew={isNew} onType={onType} />;
    case "rating":
      return <Rating {...slots} column={column} typed={typed} onType={onType} />;
    case "colour":
      return <ColourInput {...common} isBare={column.maxLength === 6} />;
    case "yesNo":
      return (
        <select {...common} className={`${inputClass} max-w-48`}>
          <EmptyOption column={column} isNew={isNew} typed={typed} />
          <option value="true">Yes</option>
          <option value="false">No</option>
          <StoredOption present={present} known={["true", "false"]} />
        </select>
      );
    case "choice":
      return (
        <select {...common} className={`${inputClass} max-w-72`}>
          <EmptyOption column={column} isNew={isNew} typed={typed} />
          {column.enumValues.map((value) => (
            <option key={value}>{value}</option>
          ))}
          <StoredOption present={present} known={column.enumValues} />
        </select>
      );
    case "secret":
      return <input {...common} type="password" autoComplete="new-password" />;
    default:
      if (column.suggests) return <EarlierInput {...common} address={address} column={column} />;
      return (
        <input
          {...common}
          {...keysOf(column)}
          autoComplete="off"
          // A little room beyond the limit, so that a pasted text is not cut without a word; the server says what is too long.
          maxLength={column.maxLength === null ? undefined : column.maxLength * 2}
        />
      );
  }
}

/** Which keys a phone shows for it. */
function keysOf(column: Column): HTMLAttributes<HTMLInputElement> {
  switch (column.input) {
    case "email":
      return { inputMode: "email", autoCapitalize: "off", spellCheck: false };
    case "telephone":
      return { inputMode: "tel" };
    case "webAddress":
      return { inputMode: "url", autoCapitalize: "off", spellCheck: false };
    default:
      return {};
  }
}

/** What is stored and is none of the choices, so that it can stay. */
function StoredOption({ present, known }: { present: string | null; known: string[] }) {
  return present === null || known.includes(present) ? null : <option value={present}>{present} (does not fit)</option>;
}

interface EmptyOptionProps {
  column: Column;
  isNew: boolean;
  typed: string;
}

function EmptyOption({ column, isNew, typed }: EmptyOptionProps) {
  const needed = !column.isNullable && !isNew && typed !== "";
  return needed ? null : <option value="">{isNew && column.isSupplied ? "the database’s default" : "empty"}</option>;
}

/** What to know before typing; null where label and input say it all. */
export function inputHint(column: Column, kind: InputKind, isNew: boolean): string | null {
  const own = column.hint === "" ? null : column.hint;
  if (!column.isWritable) return own;
  if (own !== null) return own;
  if (kind === "secret")
    return isNew ? "Once saved it is never shown." : "What is stored is never shown. Leave it empty to keep it.";
  if (kind === "lines") return "One item per line.";
  if (column.kind === "json" || column.look?.as === "json") return "A JSON document.";
  if (column.look?.as === "xml") return "An XML document.";
  if (isNew && column.isSupplied) return "If left blank, the database fills it in.";
  if (column.kind === "decimal" && column.scale)
    return `Up to ${column.scale} decimal ${column.scale === 1 ? "place" : "places"}.`;
  return null;
}
