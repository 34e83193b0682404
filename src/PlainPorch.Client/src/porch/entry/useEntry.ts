import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useReducer, useRef, useState } from "react";
import { newOnceKey } from "../../api/acts";
import { bareOf, type Bare } from "../../api/bare";
import { api, once, unwrap, type Column, type Panel, type RecordView } from "../../api/client";
import { ApiError, NoConnectionError } from "../../api/problems";
import { choicesQuery, type PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { fromInput, inputKind, readTyped, sayUnreadable, toInput } from "../../values/input";
import { startValues } from "../records/beginning";
import { keepTyping, readTyping, typingPlace } from "../records/keptTyping";
import { meantBy, type Unsettled } from "../records/useLookup";
import { useWrittenSoon } from "../records/useWrittenSoon";
import { enter, isTyped, newLine, readBlock, type EntryLine } from "./entryLines";

/** Stands before the number of a line, and before a column that is the same on all of them, where the typing is kept. */
const [LINE, SAME] = ["line ", "same "];

interface Done {
  saved: number;
  refused: number;
  /** Why it was given up before the end; null where it was not. */
  stopped: string | null;
}

/** New records that are entered as the lines of a grid: what is typed, what is pasted, and saving all of it. */
export function useEntry(address: PanelAddress, panel: Panel, columns: Column[]) {
  const place = typingPlace(address.porch, address.panel, null) + " lines";
  const [found] = useState(() => readTyping(place));
  const [lines, dispatch] = useReducer(enter, null, () => linesOf(found?.typed ?? {}));
  const [fixed, setFixed] = useState<Bare<string>>(() => (found ? sameOf(found.typed) : begun(panel, columns)));
  const [isFound, setFoundShown] = useState(found !== null);
  const [pasted, setPasted] = useState<{ rows: number; into: string; before: EntryLine[] } | null>(null);
  const [done, setDone] = useState<Done | null>(null);
  const [isSaving, setSaving] = useState(false);
  const unsettled = useRef(new Map<string, Unsettled>());
  const client = useQueryClient();
  const changed = useRecordsChanged();
  const latest = useRef(lines);
  useEffect(() => {
    latest.current = lines;
  });

  // What is the same on all lines is kept beside what was typed on some, not for itself.
  const text = JSON.stringify(lines.some(isTyped) ? toKept(lines, fixed) : {});
  useWrittenSoon(text, (now) => {
    const typed = JSON.parse(now) as Record<string, string>;
    keepTyping(place, Object.keys(typed).length === 0 ? null : { at: new Date().toISOString(), version: null, typed });
  });

  const type = useCallback((id: string, column: string, typed: string) => {
    dispatch({ act: "type", id, column, text: typed });
    dispatch({ act: "next", newId: newOnceKey() });
  }, []);

  const names = columns.filter(({ name }) => fixed[name] === undefined).map(({ name }) => name);
  const labels = columns.map(({ label }) => label);
  const open = JSON.stringify(names);
  const heads = JSON.stringify(labels);
  const paste = useCallback(
    (id: string, column: string, pastedText: string): boolean => {
      const block = readBlock(pastedText);
      if (block === null) return false;
      const rows = isHead(block[0] ?? [], JSON.parse(heads) as string[]) ? block.slice(1) : block;
      const all = JSON.parse(open) as string[];
      setPasted({ rows: rows.length, into: id, before: latest.current });
      dispatch({
        act: "fill",
        id,
        columns: all.slice(all.indexOf(column)),
        block: rows,
        newIds: rows.map(newOnceKey),
      });
      dispatch({ act: "next", newId: newOnceKey() });
      return true;
    },
    [open, heads],
  );

  /** What is sent for a line; what cannot be is told by column. */
  const read = async (line: EntryLine) => {
    const [values, errors]: [[string, string | null][], [string, string][]] = [[], []];
    // What refers together with others is looked for once these are known.
    const [alone, together] = [
      columns.filter(({ also }) => also.length === 0),
      columns.filter(({ also }) => also.length > 0),
    ];
    for (const column of [...alone, ...together]) {
      const typed = (fixed[column.name] ?? line.typed[column.name] ?? "").trim();
      if (typed === "") continue;
      const kind = inputKind(column, null);
      if (column.isLookup) {
        const known = new Map(values);
        const within = bareOf(
          column.also.flatMap(({ column: of, from }) => {
            const value = known.get(from);
            return value ? [[of, value] as const] : [];
          }),
        );
        const answer = await client.query(choicesQuery(address, column.name, typed, { within }));
        const meant = meantBy(typed, answer.choices);
        if (meant) {
          const others = Object.entries(meant.others ?? {}).filter(([name]) => !known.has(name));
          values.push([column.name, meant.value], ...others);
        } else
          errors.push([
            column.name,
            `“${typed}” means ${answer.choices.length === 0 ? "no" : "more than one"} record.`,
          ]);
      } else if (readTyped(kind, typed) === null) errors.push([column.name, sayUnreadable(kind, true)]);
      else values.push([column.name, fromInput(column, kind, typed)]);
    }
    return { values: bareOf(values), errors: bareOf(errors) };
  };

  /** Saves one line after the other; what is wrong stays, marked. Gives the first line that stayed. */
  const save = async (): Promise<string | null> => {
    setSaving(true);
    setPasted(null);
    const result: Done = { saved: 0, refused: 0, stopped: null };
    let first: string | null = null;
    const lost = await settleAll(unsettled.current);
    // What was just chosen is in the lines after the next drawing.
    await new Promise((resolve) => setTimeout(resolve));
    const all = latest.current.filter((line) => isTyped(line) || lost.has(line.id));
    try {
      for (const line of all) {
        dispatch({ act: "saving", id: line.id });
        const { values, errors: unread } = await read(line);
        const errors = bareOf([...Object.entries(unread), ...Object.entries(lost.get(line.id) ?? {})]);
        const problems = Object.keys(errors).length > 0 ? errors : await send(line, values);
        if (problems === null) result.saved++;
        else {
          dispatch({ act: "refused", id: line.id, errors: problems });
          result.refused++;
          first ??= line.id;
        }
      }
    } catch (error) {
      result.stopped = error instanceof Error ? error.message : "It failed.";
      for (const { id } of all)
        if (latest.current.some((line) => line.id === id && line.state === "saving"))
          dispatch({ act: "refused", id, errors: {} });
    }
    if (result.saved > 0) await changed(address.porch);
    setDone(result);
    setSaving(false);
    return first;
  };

  const send = async (
    line: EntryLine,
    values: Record<string, string | null>,
  ): Promise<Record<string, string> | null> => {
    try {
      const record = await add(address, line.id, values);
      dispatch({
        act: "saved",
        id: line.id,
        saved: record ? { key: record.key, title: record.title } : { key: "", title: panel.recordLabel },
      });
      return null;
    } catch (error) {
      if (error instanceof NoConnectionError || !(error instanceof ApiError) || error.status >= 500) throw error;
      const shown = new Set(columns.map(({ name }) => name));
      // What is wrong with a column that the grid does not show is said of the whole line.
      const fields = Object.entries(error.fields);
      const elsewhere = fields.filter(([name]) => !shown.has(name)).map(([, message]) => message);
      return bareOf([
        ...fields.filter(([name]) => shown.has(name)),
        ...(fields.length === 0
          ? [["", error.message] as const]
          : elsewhere.length > 0
            ? [["", elsewhere.join(" ")] as const]
            : []),
      ]);
    }
  };

  return {
    lines,
    fixed,
    fix: (column: string, typed: string | null) => {
      setFixed((before) =>
        bareOf([
          ...Object.entries(before).filter(([name]) => name !== column),
          ...(typed === null ? [] : [[column, typed] as const]),
        ]),
      );
    },
    type,
    paste,
    pasted,
    undoPaste: () => {
      if (pasted) dispatch({ act: "put", lines: pasted.before });
      setPasted(null);
    },
    addLine: useCallback(() => {
      dispatch({ act: "next", newId: newOnceKey() });
    }, []),
    drop: useCallback((id: string) => {
      dispatch({ act: "drop", id });
      dispatch({ act: "next", newId: newOnceKey() });
    }, []),
    unsettled,
    save,
    isSaving,
    done,
    waiting: lines.filter(isTyped).length,
    /** When the lines were typed that were found here; null where none were, or that is known. */
    foundAt: isFound ? (found?.at ?? null) : null,
    forgetFound: (keeps: boolean) => {
      setFoundShown(false);
      if (keeps) return;
      setFixed(bareOf<string>([]));
      dispatch({ act: "put", lines: [newLine(newOnceKey())] });
    },
    /** Nothing is kept any more. */
    discard: () => {
      keepTyping(place, null);
    },
  };
}

// Without an answer that tells it, the record is there all the same.
const add = (path: PanelAddress, id: string, values: Record<string, string | null>): Promise<RecordView | undefined> =>
  unwrap(
    api.POST("/api/porches/{porch}/panels/{panel}/records", {
      params: { path, header: once(id) },
      body: { values },
    }),
  );

/** Makes chosen records of typed texts; gives those that mean none, by line and column. The field itself says what is wrong. */
async function settleAll(unsettled: Map<string, Unsettled>): Promise<Map<string, Bare<string>>> {
  const lost = new Map<string, Bare<string>>();
  for (const [id, waiting] of unsettled)
    for (const [column, settle] of [...waiting])
      if (!(await settle())) lost.set(id, bareOf([...Object.entries(lost.get(id) ?? {}), [column, ""]]));
  return lost;
}

// A block that was copied with its headings.
const isHead = (row: string[], labels: string[]) =>
  row.length > 0 && row.every((cell) => labels.some((label) => label.toLowerCase() === cell.trim().toLowerCase()));

function toKept(lines: EntryLine[], fixed: Bare<string>): Record<string, string> {
  return bareOf([
    ...lines
      .filter(isTyped)
      .map((line, i) => [`${LINE}${i}`, JSON.stringify({ id: line.id, typed: line.typed })] as const),
    ...Object.entries(fixed).map(([name, text]) => [`${SAME}${name}`, text] as const),
  ]);
}

function linesOf(kept: Record<string, string>): EntryLine[] {
  const lines = Object.entries(kept).flatMap(([name, text]) => {
    if (!name.startsWith(LINE)) return [];
    // The line keeps its key: if it was saved after all, it is not saved twice.
    const { id, typed } = JSON.parse(text) as { id: string; typed: Record<string, string> };
    return [{ ...newLine(id), typed: bareOf(Object.entries(typed)) }];
  });
  return [...lines, newLine(newOnceKey())];
}

// What the set-up lets each record begin with.
const begun = (panel: Panel, columns: Column[]) =>
  bareOf(
    startValues(panel).flatMap(([name, value]) => {
      const column = columns.find((known) => known.name === name);
      return column ? [[name, toInput(inputKind(column, null), value)] as const] : [];
    }),
  );

const sameOf = (kept: Record<string, string>) =>
  bareOf(
    Object.entries(kept).flatMap(([name, text]) =>
      name.startsWith(SAME) ? [[name.slice(SAME.length), text] as const] : [],
    ),
  );
