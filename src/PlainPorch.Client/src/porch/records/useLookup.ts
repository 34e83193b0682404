import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState, type KeyboardEvent, type RefObject } from "react";
import type { Column, LookupTitle, Schemas } from "../../api/client";
import type { choicesQuery } from "../../api/queries";

type Choice = Schemas["LookupChoice"];

/** By column: settles the typed text, and tells whether it means one record. */
export type Unsettled = Map<string, () => Promise<boolean>>;

export interface LookupOptions {
  column: Column;
  /** The value that is chosen; "" for none. */
  value: string;
  /** How the record is called that the value `knownFor` refers to. */
  known: LookupTitle | undefined;
  knownFor: string | null;
  /** Called with the value, and what goes into other columns that refer together with it. */
  onChoose: (value: string, others: Record<string, string>) => void;
  /** The fields whose text is not yet a chosen record, each with the way to settle it. */
  unsettled: RefObject<Unsettled>;
  /** Whether a record that is missing can be added. */
  canAdd?: boolean;
  /** Asks for the records that a text finds. */
  ask: (text: string) => ReturnType<typeof choicesQuery>;
  /** Asks for the one record that the value means; {@link ask} where it is missing. */
  askFor?: (value: string) => ReturnType<typeof choicesQuery>;
  /** What the record's other columns hold that refer together with it, and what they held for `knownFor`. */
  others?: Record<string, string | null>;
  knownOthers?: Record<string, string | null>;
  /** What tells its field from others; the column's name where it is missing. */
  name?: string;
}

const nothing: Record<string, string | null> = {};

const PAUSE_MS = 150;

/** A record that is picked by its title or its key: what is typed, what it finds, and which record it means. */
export function useLookup({
  column,
  value,
  known,
  knownFor,
  onChoose,
  unsettled,
  canAdd = false,
  ask,
  askFor = ask,
  others = nothing,
  knownOthers = others,
  name = column.name,
}: LookupOptions) {
  const [typed, setTyped] = useState<string | null>(null);
  const [searched, setSearched] = useState("");
  const [isOpen, setOpen] = useState(false);
  const [active, setActive] = useState(0);
  const [chosen, setChosen] = useState<Choice | null>(null);
  const [isSettling, setSettling] = useState(false);
  const client = useQueryClient();
  const list = useRef<HTMLUListElement>(null);
  const field = useRef<HTMLInputElement>(null);

  const isChosen = chosen?.value === value && isSame(others, chosen.others ?? {});
  const isKnownOne = known !== undefined && knownFor === value && isSame(others, knownOthers);
  const isKnown = value === "" || isChosen || isKnownOne;
  const choices = useQuery({ ...ask(searched), enabled: isOpen });
  const unknown = useQuery({ ...askFor(value), enabled: !isKnown });
  const found = unknown.data?.choices.find(
    (choice) => sameValue(choice.value, value) && isSame(others, choice.others ?? {}),
  );
  const title = value === "" ? "" : isChosen ? chosen.title : isKnownOne ? known.title : (found?.title ?? value);
  // By what another column holds now the same value means another record than the one that was chosen.
  const before = chosen?.value === value ? chosen.title : knownFor === value ? known?.title : undefined;
  const isAnother = !isKnown && before !== undefined && Object.keys(others).length > 0;
  const options = choices.data?.choices ?? [];
  const target = canAdd ? (choices.data?.target ?? null) : null;
  const [adding, setAdding] = useState<string | null>(null);
  // What adds a record comes after those that are there.
  const last = options.length - (target ? 0 : 1);
  const isFresh = !choices.isPlaceholderData && !choices.isFetching && searched === (typed ?? "").trim();

  useEffect(() => {
    const timer = setTimeout(() => {
      setSearched((typed ?? "").trim());
      setActive(0);
    }, PAUSE_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [typed]);

  useEffect(() => {
    list.current?.children.item(active)?.scrollIntoView({ block: "nearest" });
  }, [active]);

  const choose = (choice: Choice) => {
    setChosen(choice);
    setTyped(null);
    setOpen(false);
    onChoose(choice.value, choice.others ?? {});
  };
  const empty = () => {
    setTyped(null);
    onChoose("", {});
  };

  const add = () => {
    setOpen(false);
    setAdding((typed ?? "").trim());
  };

  // Whoever types a whole code and goes on need not wait for the list.
  const settle = async (text: string): Promise<boolean> => {
    if (text === "") empty();
    if (text === "" || text === title) {
      setTyped(null);
      return true;
    }
    setSettling(true);
    try {
      const answer = await client.query(ask(text));
      const meant = meantBy(text, answer.choices);
      if (meant) choose(meant);
      return meant !== undefined;
    } catch {
      // What went wrong is told when the list is opened again; the text stays.
      return false;
    } finally {
      setSettling(false);
    }
  };
  useEffect(() => {
    const { current } = unsettled;
    if (typed === null) current.delete(name);
    else current.set(name, () => settle(typed.trim()));
  });

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey) return;
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      if (!isOpen) setOpen(true);
      else setActive((at) => Math.max(0, Math.min(last, at + (event.key === "ArrowDown" ? 1 : -1))));
    } else if (event.key === "Enter" && isOpen) {
      event.preventDefault();
      const option = options[active];
      if (option && isFresh) choose(option);
      else if (isFresh && target && active === options.length) add();
      else if (typed?.trim()) void settle(typed.trim());
    } else if (event.key === "Escape" && (isOpen || typed !== null)) {
      event.preventDefault();
      event.stopPropagation();
      setOpen(false);
      setTyped(null);
    }
  };
  const onBlur = () => {
    setOpen(false);
    if (typed !== null && adding === null) void settle(typed.trim());
  };
  const isLost = typed !== null && typed.trim() !== "" && !isOpen && !isSettling && adding === null;

  return {
    list,
    field,
    /** What the input shows. */
    shown: typed ?? title,
    typed,
    isOpen,
    /** Whether what was typed means no one record. */
    isLost,
    /** How the record was called that was chosen before another column made another one, or none, of it; null where none did. */
    before: isAnother && !unknown.isPending ? before : null,
    /** Whether there is a record that all columns mean together. */
    isFound: isKnown || found !== undefined,
    active,
    options,
    choices,
    choose,
    target,
    /** The chosen record, where its page is known. */
    page:
      value === ""
        ? null
        : isChosen
          ? pageOf(choices.data?.panel, chosen.key)
          : isKnownOne
            ? pageOf(known.panel, known.key)
            : pageOf(unknown.data?.panel, found?.key),
    /** What was typed when adding a record began; null where none is being added. */
    adding,
    add,
    /** Ends adding; the new record, if there is one, is chosen. */
    added: (key: string | null) => {
      setAdding(null);
      // Once the dialog has given the focus back to what was in it.
      setTimeout(() => field.current?.focus(), 50);
      if (key === null) setTyped(null);
      else void settle(key);
    },
    type: (text: string) => {
      setTyped(text);
      setOpen(true);
    },
    open: () => {
      setOpen(true);
    },
    onKeyDown,
    onBlur,
  };
}

const pageOf = (panel: string | null | undefined, key: string | null | undefined) =>
  panel && key ? { panel, key } : null;

/** Makes chosen records of typed texts; gives the first column whose text means none, null where all do. */
export async function settleAll(unsettled: Unsettled): Promise<string | null> {
  for (const [column, settle] of [...unsettled]) {
    if (!(await settle())) return column;
  }
  return null;
}

/** The one record that a typed text means: by its value, its key or its title; or the only one that it finds. */
export function meantBy(text: string, options: Choice[]): Choice | undefined {
  const same = (other: string | null) => other?.toLowerCase() === text.toLowerCase();
  const exact = options.filter(({ value, title, detail }) => sameValue(value, text) || same(detail) || same(title));
  // Where several columns refer together, a number may be that of several records.
  const values = new Set(exact.map(({ value, others }) => JSON.stringify([value, others])));
  if (values.size > 1 && exact.every(({ others }) => Object.keys(others ?? {}).length > 0)) return undefined;
  return exact[0] ?? (options.length === 1 ? options[0] : undefined);
}

/** Whether other columns hold what a choice puts into them; what they do not hold yet is no difference. */
function isSame(others: Record<string, string | null>, wanted: Record<string, string | null>): boolean {
  return Object.entries(others).every(
    ([name, value]) => !(name in wanted) || sameValue(value ?? "", wanted[name] ?? ""),
  );
}

// "000123" and "123" are one number to a column that keeps it as text.
export function sameValue(a: string, b: string): boolean {
  return a === b || (/^\d+$/.test(a) && /^\d+$/.test(b) && a.replace(/^0+/, "") === b.replace(/^0+/, ""));
}
