import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState, type KeyboardEvent, type RefObject } from "react";
import type { Column, LookupTitle, Schemas } from "../../api/client";
import { choicesQuery, type PanelAddress } from "../../api/queries";
import { inputClass, type FieldSlots } from "../../ui/Field";

type Choice = Schemas["LookupChoice"];

interface LookupInputProps extends FieldSlots {
  address: PanelAddress;
  column: Column;
  /** The value that is chosen; "" for none. */
  value: string;
  /** How the record is called that the value `knownFor` refers to. */
  known: LookupTitle | undefined;
  knownFor: string | null;
  onChoose: (value: string) => void;
  /** The fields whose text is not yet a chosen record, each with the way to settle it. */
  unsettled: RefObject<Unsettled>;
}

/** By column: settles the typed text, and tells whether it means one record. */
export type Unsettled = Map<string, () => Promise<boolean>>;

const PAUSE_MS = 150;

/**
 * Picks a record by its title or its key (the combobox pattern of the ARIA authoring practices). Typing searches, arrows
 * move, Enter chooses; leaving with a text that means one record chooses that one.
 */
export function LookupInput({
  address,
  column,
  value,
  known,
  knownFor,
  onChoose,
  unsettled,
  ...slots
}: LookupInputProps) {
  const listId = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const [searched, setSearched] = useState("");
  const [isOpen, setOpen] = useState(false);
  const [active, setActive] = useState(0);
  const [chosen, setChosen] = useState<Choice | null>(null);
  const [isSettling, setSettling] = useState(false);
  const client = useQueryClient();
  const list = useRef<HTMLUListElement>(null);

  const isKnown = value === "" || chosen?.value === value || (known !== undefined && knownFor === value);
  const choices = useQuery({ ...choicesQuery(address, column.name, searched), enabled: isOpen });
  const unknown = useQuery({ ...choicesQuery(address, column.name, value), enabled: !isKnown });
  const found = unknown.data?.choices.find((choice) => sameValue(choice.value, value));
  const title =
    value === ""
      ? ""
      : chosen?.value === value
        ? chosen.title
        : knownFor === value && known
          ? known.title
          : (found?.title ?? value);
  const options = choices.data?.choices ?? [];
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
    onChoose(choice.value);
  };
  const empty = () => {
    setTyped(null);
    onChoose("");
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
      const answer = await client.query(choicesQuery(address, column.name, text));
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
    if (typed === null) current.delete(column.name);
    else current.set(column.name, () => settle(typed.trim()));
  });

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey) return;
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      if (!isOpen) setOpen(true);
      else setActive((at) => Math.max(0, Math.min(options.length - 1, at + (event.key === "ArrowDown" ? 1 : -1))));
    } else if (event.key === "Enter" && isOpen) {
      event.preventDefault();
      const option = options[active];
      if (option && isFresh) choose(option);
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
    if (typed !== null) void settle(typed.trim());
  };
  const isLost = typed !== null && typed.trim() !== "" && !isOpen && !isSettling;

  return (
    <div className="relative">
      <input
        {...slots}
        aria-invalid={slots["aria-invalid"] ?? (isLost ? true : undefined)}
        role="combobox"
        aria-expanded={isOpen}
        aria-controls={listId}
        aria-autocomplete="list"
        aria-activedescendant={isOpen && options.length > 0 ? `${listId}-${active}` : undefined}
        data-column={column.name}
        autoComplete="off"
        className={inputClass}
        value={typed ?? title}
        placeholder={column.isNullable ? "none" : undefined}
        onChange={(event) => {
          setTyped(event.target.value);
          setOpen(true);
        }}
        onFocus={(event) => {
          event.target.select();
        }}
        onClick={() => {
          setOpen(true);
        }}
        onKeyDown={onKeyDown}
        onBlur={onBlur}
      />
      {isOpen && (
        <ul
          ref={list}
          id={listId}
          role="listbox"
          aria-label={column.label}
          className="absolute z-10 mt-1 max-h-72 w-full min-w-56 overflow-y-auto rounded border border-edge bg-sheet py-1 shadow-lg"
        >
          {options.map((option, index) => (
            <li
              key={option.value}
              id={`${listId}-${index}`}
              role="option"
              aria-selected={index === active}
              className="flex cursor-pointer items-baseline gap-3 px-2.5 py-1 aria-selected:bg-accent-tint"
              onMouseDown={(event) => {
                event.preventDefault();
                choose(option);
              }}
            >
              <span className="truncate">{option.title}</span>
              {option.detail && <span className="ml-auto shrink-0 text-sm text-faint">{option.detail}</span>}
            </li>
          ))}
          {choices.isError && <li className="px-2.5 py-1 text-danger">{choices.error.message}</li>}
          {choices.data && options.length === 0 && (
            <li className="px-2.5 py-1 text-faint">Nothing matches. Try less of the name, or its number.</li>
          )}
          {choices.data?.hasMore && <li className="px-2.5 py-1 text-sm text-faint">There are more: type to narrow.</li>}
        </ul>
      )}
      {isLost && (
        <p role="alert" className="mt-1 text-sm font-medium text-danger">
          “{typed.trim()}” means {options.length === 0 ? "no record" : "several records"}. Choose one from the list, or
          press Escape to leave it as it was.
        </p>
      )}
    </div>
  );
}

/** The one record that a typed text means: by its value, its key or its title; or the only one that it finds. */
function meantBy(text: string, options: Choice[]): Choice | undefined {
  const same = (other: string | null) => other?.toLowerCase() === text.toLowerCase();
  const exact = options.find(({ value, title, detail }) => sameValue(value, text) || same(detail) || same(title));
  return exact ?? (options.length === 1 ? options[0] : undefined);
}

// "000123" and "123" are one number to a column that keeps it as text.
function sameValue(a: string, b: string): boolean {
  return a === b || (/^\d+$/.test(a) && /^\d+$/.test(b) && a.replace(/^0+/, "") === b.replace(/^0+/, ""));
}
