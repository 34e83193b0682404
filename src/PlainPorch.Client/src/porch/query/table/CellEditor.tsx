import { useEffect, useImperativeHandle, useRef, useState, type KeyboardEvent, type Ref } from "react";
import { newOnceKey } from "../../../api/acts";
import {
  api,
  ifMatch,
  once,
  unwrap,
  type Column,
  type ListRow,
  type LookupTitle,
  type RecordView,
} from "../../../api/client";
import { ApiError } from "../../../api/problems";
import type { PanelAddress } from "../../../api/queries";
import { alignsRight, formatValue } from "../../../values/format";
import { bareOf } from "../../../api/bare";
import { fromInput, inputKind, toInput } from "../../../values/input";
import { unreadableIn } from "../../../values/unreadable";
import { FieldInput } from "../../records/FieldInput";
import type { Unsettled } from "../../records/useLookup";

/** Where the reader goes on after a cell: "out" leaves the focus where the reader put it. */
export type Going = "down" | "up" | "right" | "left" | "row" | "out";

/** What the list asks of the cell that is being changed. */
export interface CellHandle {
  /** Saves it, and tells whether nothing is left to correct. */
  settle: () => Promise<boolean>;
}

interface CellEditorProps {
  address: PanelAddress;
  column: Column;
  row: ListRow;
  /** The whole present value. */
  text: string | null;
  known: LookupTitle | undefined;
  ref: Ref<CellHandle>;
  onSaved: (record: RecordView) => void;
  onLeave: (going: Going) => void;
  /** Told what could not be saved when the cell is no longer there to say it. */
  onLost: (message: string) => void;
}

const CHECKS_IN_A_CELL =
  "[&_[data-checks]]:absolute [&_[data-checks]]:z-10 [&_[data-checks]]:w-max [&_[data-checks]]:max-w-72 [&_[data-checks]]:flex-col [&_[data-checks]]:flex-nowrap [&_[data-checks]]:shadow-lg [&_[data-checks]_input]:min-h-0";

/** Changes one cell. Enter saves and goes down, Tab goes right, Escape gives up; what is wrong is said at the cell. */
export function CellEditor(props: CellEditorProps) {
  const { address, column, row, text, known, ref, onSaved, onLeave, onLost } = props;
  const kind = inputKind(column, text);
  const [typed, setTyped] = useState(toInput(kind, text));
  const [error, setError] = useState<string | null>(null);
  const latest = useRef({
    typed,
    version: row.version ?? 0,
    isThere: true,
    isGivenUp: false,
    /** What was saved last, so that leaving the cell afterwards does not save it again. */
    saved: toInput(kind, text),
    key: newOnceKey(),
    saving: null as Promise<boolean> | null,
  });
  const unsettled = useRef<Unsettled>(new Map());
  const box = useRef<HTMLDivElement>(null);

  const type = (value: string) => {
    latest.current.typed = value;
    setTyped(value);
  };

  const write = async (): Promise<boolean> => {
    if (latest.current.isGivenUp) return true;
    for (const one of [...unsettled.current.values()]) if (!(await one())) return false;
    const unreadable = unreadableIn(box.current);
    if (unreadable.size > 0) {
      const [message = ""] = unreadable.values();
      if (latest.current.isThere) setError(message);
      else onLost(`${column.label} of ${row.title} was not saved: ${message}`);
      return false;
    }
    const { typed: wanted, version, saved: before, key } = latest.current;
    if (wanted === before) return true;
    try {
      const saved = await unwrap(
        api.PUT("/api/porches/{porch}/panels/{panel}/records/{key}", {
          params: { path: { ...address, key: row.key ?? "" }, header: { ...ifMatch(version), ...once(key) } },
          body: { values: bareOf([[column.name, fromInput(column, kind, wanted)]]) },
        }),
      );
      Object.assign(latest.current, { saved: wanted, version: saved.version, key: newOnceKey() });
      onSaved(saved);
      return true;
    } catch (failure) {
      const message = say(failure, column);
      if (failure instanceof ApiError && failure.status === 412) {
        // Once told of the other change, whoever presses Enter again means it.
        latest.current.version = (failure.body as RecordView).version;
      }
      if (latest.current.isThere) setError(message);
      else onLost(`“${wanted}” was not saved as ${column.label} of ${row.title}: ${message}`);
      return false;
    }
  };
  const save = (): Promise<boolean> => {
    latest.current.saving ??= write().finally(() => {
      latest.current.saving = null;
    });
    return latest.current.saving;
  };
  const saveAndGo = (going: Going) => {
    void save().then((isDone) => {
      // Whoever presses Escape while it is being saved stays on the row.
      if (latest.current.isGivenUp) return;
      if (isDone) onLeave(going);
      else if (going !== "out") box.current?.querySelector<HTMLElement>("input, textarea, select")?.focus();
    });
  };

  useImperativeHandle(ref, () => ({ settle: save }));
  useEffect(() => {
    const state = latest.current;
    state.isThere = true;
    const input = box.current?.querySelector<HTMLInputElement>("input, textarea, select");
    input?.focus();
    if (input && "select" in input) input.select();
    return () => {
      state.isThere = false;
    };
  }, []);

  const onKeyDown = (event: KeyboardEvent) => {
    event.stopPropagation();
    if (event.defaultPrevented) return;
    const going = goingOf(event);
    if (going === null) return;
    event.preventDefault();
    if (event.key === "Escape") {
      latest.current.isGivenUp = true;
      onLeave("row");
    } else saveAndGo(going);
  };

  const slots = {
    id: "cell",
    "aria-invalid": error ? true : undefined,
    "aria-describedby": error ? "cell-error" : undefined,
    "aria-label": `${column.label} of ${row.title}`,
  };
  return (
    <div
      ref={box}
      className={`relative -mx-2 -my-0.5 w-0 ${alignsRight(column) ? "min-w-[max(100%,6rem)]" : "min-w-[max(100%,9rem)]"} [&_input]:min-h-7 [&_input]:py-0.5 [&_select]:min-h-7 [&_select]:py-0.5 [&_textarea]:min-h-7 [&_textarea]:py-0.5 [&_[data-picker]]:hidden ${CHECKS_IN_A_CELL}`}
      onKeyDown={onKeyDown}
      onClick={(event) => {
        event.stopPropagation();
      }}
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) saveAndGo("out");
      }}
    >
      <FieldInput
        {...slots}
        address={address}
        column={column}
        kind={kind}
        typed={typed}
        present={text}
        known={known}
        isNew={false}
        unsettled={unsettled}
        onType={type}
      />
      {error && (
        <p
          id="cell-error"
          role="alert"
          className="absolute top-full left-0 z-10 mt-1 w-72 rounded border border-danger bg-danger-tint px-2 py-1 text-left text-sm whitespace-normal text-danger shadow-lg"
        >
          {error}
        </p>
      )}
    </div>
  );
}

function goingOf(event: KeyboardEvent): Going | null {
  if (event.altKey || event.ctrlKey || event.metaKey) return null;
  switch (event.key) {
    case "Enter":
      // A text of several lines needs a way to begin one.
      return event.shiftKey && event.target instanceof HTMLTextAreaElement ? null : event.shiftKey ? "up" : "down";
    case "Tab":
      return event.shiftKey ? "left" : "right";
    case "Escape":
      return "row";
    default:
      return null;
  }
}

function say(failure: unknown, column: Column): string {
  if (!(failure instanceof Error)) return "This was not saved. Try again.";
  if (!(failure instanceof ApiError)) return failure.message;
  if (failure.status === 412) {
    const now = formatValue(column, (failure.body as RecordView).values[column.name]) || "empty";
    return `Somebody else has changed this to “${now}”. Enter saves yours anyway, Escape keeps theirs.`;
  }
  return failure.fields[column.name] ?? failure.fields[""] ?? failure.message;
}
