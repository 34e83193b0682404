import type { Column, LookupTitle } from "../../api/client";
import { formatValue } from "../../values/format";
import { linkOf, phoneLink } from "../../values/links";
import { sectionsOf } from "./formSections";
import { LookupValue } from "./LookupValue";
import { Unfit } from "./Unfit";

interface ValueListProps {
  porch: string;
  columns: Column[];
  values: Record<string, string | null>;
  lookups: Record<string, LookupTitle>;
  /** The columns whose values do not fit what they mean. */
  unfit?: string[];
  /** Why columns that code computes are empty, by column. */
  notComputed?: Record<string, string>;
  /** Harmless HTML of formatted texts, by column. */
  formatted?: Record<string, string>;
  /** Shows a picture; undefined where only its size is told. */
  picture?: (column: Column, bytes: string) => React.ReactNode;
  /** Where the bytes of a column can be had; undefined where they cannot. */
  fileOf?: (column: Column) => string;
  /** Shows the files whose paths a column holds; undefined where only the paths are told. */
  files?: (column: Column, value: string) => React.ReactNode;
}

/** A record's values to read, one under the other, long records under headings. */
export function ValueList({
  porch,
  columns,
  values,
  lookups,
  unfit = [],
  notComputed = {},
  formatted = {},
  picture,
  fileOf,
  files,
}: ValueListProps) {
  return sectionsOf(columns).map(({ section, columns: members }) => (
    <section key={section} aria-label={section || undefined}>
      {section && <h2 className="mb-1 text-base font-semibold">{section}</h2>}
      <dl className="border-t border-line">
        {members.map((column) => (
          <div key={column.name} className="grid gap-x-6 border-b border-line py-1.5 sm:grid-cols-[13rem_1fr]">
            <dt className="text-faint">{column.label}</dt>
            <dd className={`break-words whitespace-pre-wrap ${column.kind === "json" ? "font-mono text-sm" : ""}`}>
              {column.isSecret ? (
                <span className="text-faint">never shown</span>
              ) : files && column.holdsPaths && values[column.name] != null ? (
                files(column, values[column.name] ?? "")
              ) : picture && column.kind === "binary" && column.isPicture && values[column.name] != null ? (
                picture(column, values[column.name] ?? "")
              ) : fileOf && column.kind === "binary" && values[column.name] != null ? (
                <a className="link" href={fileOf(column)} download>
                  Download ({formatValue(column, values[column.name])})
                </a>
              ) : column.isLookup && values[column.name] != null ? (
                <LookupValue porch={porch} title={lookups[column.name]} value={values[column.name]} />
              ) : formatted[column.name] !== undefined ? (
                <div className="formatted" dangerouslySetInnerHTML={{ __html: formatted[column.name] ?? "" }} />
              ) : notComputed[column.name] !== undefined ? (
                <span className="text-danger">{notComputed[column.name]}</span>
              ) : unfit.includes(column.name) ? (
                <Unfit>{values[column.name]}</Unfit>
              ) : (
                <Linked column={column} label={column.label} value={formatValue(column, values[column.name])} />
              )}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  ));
}

function Linked({ column, label, value }: { column: Column; label: string; value: string }) {
  if (value === "") return <span className="text-faint">–</span>;
  const to = column.look?.as === "phone" ? phoneLink(value) : linkOf(label, value);
  if (to === null) return value;
  return (
    <a className="link" href={to} {...(to.startsWith("http") && { target: "_blank", rel: "noreferrer" })}>
      {value}
    </a>
  );
}
