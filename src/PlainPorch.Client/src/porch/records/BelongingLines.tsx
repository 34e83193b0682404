import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, type RefObject } from "react";
import { newOnceKey } from "../../api/acts";
import { bareOf } from "../../api/bare";
import type { Column, Panel } from "../../api/client";
import { nextNumberQuery, panelQuery, type PanelAddress } from "../../api/queries";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { inputKind, toInput } from "../../values/input";
import {
  columnsOf,
  isBlank,
  nameOf,
  readLine,
  refusedAt,
  type FormParts,
  type PartLine,
  type Typed,
} from "./belonging";
import { FieldInput } from "./FieldInput";
import { keepTyping, readTyping } from "./keptTyping";
import { settleAll, type Unsettled } from "./useLookup";
import { useWrittenSoon } from "./useWrittenSoon";

interface BelongingLinesProps {
  porch: string;
  typed: Typed;
  /** Where what is typed is kept; null for nowhere. */
  place: string | null;
  parts: RefObject<FormParts>;
  /** What was refused when the form was saved, by field. */
  refused: Record<string, string>;
  /** Values that lines begin with, one for each. */
  begun?: Record<string, string>[];
  onTyped: (name: string, isTyped: boolean) => void;
}

/** New records of another panel, typed as lines of the form of the record that they will refer to. */
export function BelongingLines(props: BelongingLinesProps) {
  const address = { porch: props.porch, panel: props.typed.panel };
  const panel = useQuery(panelQuery(address));
  const numbered = useQuery(nextNumberQuery(address));
  const error = panel.error ?? numbered.error;
  if (error) return <Failure error={error} />;
  if (!panel.data || !numbered.data) return <Loading what={props.typed.label} />;
  return (
    <Lines
      {...props}
      address={address}
      panel={panel.data}
      columns={columnsOf(panel.data, props.typed, numbered.data.column)}
    />
  );
}

interface LinesProps extends BelongingLinesProps {
  address: PanelAddress;
  panel: Panel;
  columns: Column[];
}

const freshLine = (): PartLine => ({ id: newOnceKey(), typed: bareOf<string>([]) });

function Lines({ address, panel, columns, typed, place, parts, refused, begun, onTyped }: LinesProps) {
  const name = nameOf(typed);
  const [kept] = useState(() => found(place));
  const [isFound, setFound] = useState(kept.length > 0);
  const [lines, setLines] = useState<PartLine[]>(() => [...kept, ...copied(columns, begun), freshLine()]);
  const [unread, setUnread] = useState<Record<string, Record<string, string>>>({});
  const unsettled = useRef(new Map<string, RefObject<Unsettled>>());
  // The lines as they were sent, by which what is refused finds its line.
  const [sent, setSent] = useState<string[]>([]);
  const isOver = useRef(false);
  const filled = lines.filter((line) => !isBlank(line));
  const isTyped = filled.length > 0;

  useEffect(() => {
    onTyped(name, isTyped);
  }, [name, isTyped, onTyped]);
  useWrittenSoon(JSON.stringify(filled.map((line) => line.typed)), (text) => {
    if (isOver.current || place === null) return;
    const kept = JSON.parse(text) as Record<string, string>[];
    keepTyping(
      place,
      kept.length === 0
        ? null
        : {
            at: new Date().toISOString(),
            version: null,
            typed: bareOf(kept.map((line, i) => [`${i}`, JSON.stringify(line)] as const)),
          },
    );
  });

  const latest = useRef(lines);
  useEffect(() => {
    latest.current = lines;
    const { current } = parts;
    current.set(name, {
      settle: async () => {
        for (const pending of unsettled.current.values()) if ((await settleAll(pending.current)) !== null) return false;
        return true;
      },
      read: () => {
        const all = latest.current.filter((line) => !isBlank(line));
        const read = all.map((line) => readLine(columns, line));
        setUnread(bareOf(all.map((line, i) => [line.id, read[i]?.errors ?? {}] as const)));
        setSent(all.map(({ id }) => id));
        if (read.some(({ errors }) => Object.keys(errors).length > 0)) return "wrong";
        return all.length === 0
          ? null
          : { panel: typed.panel, column: typed.column, added: read.map(({ values }) => ({ values })), changed: null };
      },
      drop: () => {
        isOver.current = true;
        if (place !== null) keepTyping(place, null);
      },
    });
    return () => {
      current.delete(name);
    };
  });

  const type = (id: string, column: string, text: string) => {
    setLines((before) => {
      const after = before.map((line) =>
        line.id === id ? { ...line, typed: bareOf([...Object.entries(line.typed), [column, text] as const]) } : line,
      );
      const last = after.at(-1);
      return last && isBlank(last) ? after : [...after, freshLine()];
    });
    setUnread((before) => bareOf(Object.entries(before).filter(([line]) => line !== id)));
  };

  return (
    <fieldset className="min-w-0">
      <legend className="mb-2 font-serif text-base font-semibold">{typed.label}</legend>
      {isFound && (
        <p role="status" className="mb-2 flex flex-wrap items-baseline gap-x-3 text-[15px]">
          What you typed here and did not save is still there.
          <button
            type="button"
            className="link"
            onClick={() => {
              setFound(false);
              setLines((before) => before.filter((line) => !kept.some(({ id }) => id === line.id)));
            }}
          >
            Discard it
          </button>
        </p>
      )}
      <div className="border border-line bg-sheet">
        {/* On a phone each line is a card; a table to be pushed sideways would cut off the lists of its lookups. */}
        <table className="w-full border-collapse text-[15px] max-md:block">
          <thead className="max-md:sr-only">
            <tr className="border-b border-edge text-left text-sm text-faint">
              {columns.map((column) => (
                <th key={column.name} scope="col" className="min-w-32 px-2 py-1.5 font-medium">
                  {column.label}
                  {column.mustBeGiven && <span className="font-normal"> · required</span>}
                </th>
              ))}
              <td className="w-10" />
            </tr>
          </thead>
          <tbody className="max-md:block">
            {lines.map((line, i) => {
              const at = sent.indexOf(line.id);
              const errors = { ...(at < 0 ? {} : refusedAt(refused, name, `added.${at}`)), ...unread[line.id] };
              return (
                <PartRow
                  key={line.id}
                  address={address}
                  columns={columns}
                  line={line}
                  number={i + 1}
                  errors={errors}
                  unsettled={unsettled}
                  label={panel.recordLabel}
                  onType={type}
                  onDrop={(id) => {
                    setLines((before) => {
                      const after = before.filter((one) => one.id !== id);
                      return after.some(isBlank) ? after : [...after, freshLine()];
                    });
                  }}
                />
              );
            })}
          </tbody>
        </table>
      </div>
    </fieldset>
  );
}

interface PartRowProps {
  address: PanelAddress;
  columns: Column[];
  line: PartLine;
  number: number;
  errors: Record<string, string>;
  unsettled: RefObject<Map<string, RefObject<Unsettled>>>;
  label: string;
  onType: (id: string, column: string, text: string) => void;
  onDrop: (id: string) => void;
}

function PartRow({ address, columns, line, number, errors, unsettled, label, onType, onDrop }: PartRowProps) {
  const own = useRef<Unsettled>(new Map());
  useEffect(() => {
    const { current } = unsettled;
    current.set(line.id, own);
    return () => {
      current.delete(line.id);
    };
  }, [unsettled, line.id]);
  const elsewhere = Object.entries(errors)
    .filter(([column]) => !columns.some(({ name }) => name === column))
    .map(([, message]) => message);
  return (
    <>
      <tr className="border-b border-line align-top last:border-0 max-md:grid max-md:gap-1 max-md:p-2">
        {columns.map((column) => {
          const error = errors[column.name];
          const id = `part-${line.id}-${column.name}`;
          return (
            <td
              key={column.name}
              data-label={column.label}
              className="p-0.5 max-md:before:block max-md:before:text-sm max-md:before:text-faint max-md:before:content-[attr(data-label)]"
            >
              <FieldInput
                id={id}
                aria-label={`${column.label}, ${label} ${number}`}
                aria-invalid={error ? true : undefined}
                aria-describedby={error ? `${id}-error` : undefined}
                address={address}
                column={column}
                kind={inputKind(column, null)}
                typed={line.typed[column.name] ?? ""}
                present={null}
                known={undefined}
                isNew
                unsettled={own}
                onType={(text) => {
                  onType(line.id, column.name, text);
                }}
              />
              {error && (
                <p id={`${id}-error`} role="alert" className="px-1 py-0.5 text-sm text-danger">
                  {error}
                </p>
              )}
            </td>
          );
        })}
        <td className="px-1 py-1.5 text-center">
          {!isBlank(line) && (
            <button
              type="button"
              tabIndex={-1}
              aria-label={`Remove ${label} ${number}`}
              className="size-7 rounded text-faint hover:bg-tint"
              onClick={() => {
                onDrop(line.id);
              }}
            >
              ✕
            </button>
          )}
        </td>
      </tr>
      {elsewhere.length > 0 && (
        <tr>
          <td colSpan={columns.length + 1} role="alert" className="px-2 pb-1.5 text-sm text-danger">
            {elsewhere.join(" ")}
          </td>
        </tr>
      )}
    </>
  );
}

function found(place: string | null): PartLine[] {
  const kept = place === null ? null : readTyping(place);
  return Object.values(kept?.typed ?? {}).map((text) => ({
    id: newOnceKey(),
    typed: bareOf(Object.entries(JSON.parse(text) as Record<string, string>)),
  }));
}

const copied = (columns: Column[], begun: Record<string, string>[] = []): PartLine[] =>
  begun.map((values) => ({
    id: newOnceKey(),
    typed: bareOf(
      columns.flatMap((column) => {
        const value = values[column.name];
        return value === undefined ? [] : [[column.name, toInput(inputKind(column, value), value)] as const];
      }),
    ),
  }));
