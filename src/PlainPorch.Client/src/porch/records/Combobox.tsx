import { useContext, useId, type ReactNode } from "react";
import { recordPath } from "../../paths";
import { inputClass, type FieldSlots } from "../../ui/Field";
import { AddingTarget } from "./addingTarget";
import { useLookup, type LookupOptions } from "./useLookup";

interface ComboboxProps extends FieldSlots {
  porch: string;
  lookup: LookupOptions;
  placeholder?: string | undefined;
  /** Whether there is room for the way to the record's page. */
  leadsThere?: boolean;
  /** What stands below it. */
  below?: ReactNode;
}

/**
 * Picks a record by its title or its key (the combobox pattern of the ARIA authoring practices). Typing searches, arrows
 * move, Enter chooses; leaving with a text that means one record chooses that one.
 */
export function Combobox({ porch, lookup: wanted, placeholder, leadsThere = false, below, ...slots }: ComboboxProps) {
  const listId = useId();
  const showAdding = useContext(AddingTarget);
  const { column, name = column.name } = wanted;
  const lookup = useLookup({ ...wanted, canAdd: wanted.canAdd !== false && showAdding !== null });
  const { list, field, shown, typed, isOpen, isLost, active, options, choices } = lookup;

  const page = leadsThere && typed === null ? lookup.page : null;

  return (
    <div className="relative min-w-0">
      <input
        {...slots}
        ref={field}
        aria-invalid={slots["aria-invalid"] ?? (isLost ? true : undefined)}
        role="combobox"
        aria-expanded={isOpen}
        aria-controls={listId}
        aria-autocomplete="list"
        aria-activedescendant={isOpen && (options.length > 0 || lookup.target) ? `${listId}-${active}` : undefined}
        data-column={name}
        autoComplete="off"
        className={page ? `${inputClass} pr-9` : inputClass}
        value={shown}
        placeholder={placeholder}
        onChange={(event) => {
          lookup.type(event.target.value);
        }}
        onFocus={(event) => {
          event.target.select();
        }}
        onClick={lookup.open}
        onKeyDown={lookup.onKeyDown}
        onBlur={lookup.onBlur}
      />
      {page && (
        <a
          href={recordPath(porch, page.panel, page.key)}
          target="_blank"
          rel="noreferrer"
          tabIndex={-1}
          aria-label={`Open ${shown} in a new tab`}
          title="Open in a new tab"
          className="absolute top-0 right-0 grid h-9 w-9 place-items-center rounded text-faint hover:bg-tint hover:text-ink"
        >
          <svg aria-hidden viewBox="0 0 16 16" className="size-4 fill-none stroke-current">
            <path d="M6 3.5H3.5v9h9V10M9 3.5h3.5V7M12.5 3.5 7 9" />
          </svg>
        </a>
      )}
      {isOpen && (
        <ul
          ref={list}
          id={listId}
          role="listbox"
          // What scrolls would else be a stop of Tab, and take the focus with it when it closes.
          tabIndex={-1}
          aria-label={slots["aria-label"] ?? column.label}
          className="absolute z-10 mt-1 max-h-72 w-full min-w-56 overflow-y-auto rounded border border-edge bg-sheet py-1 shadow-lg"
        >
          {options.map((option, index) => (
            <li
              key={`${option.value} ${Object.values(option.others ?? {}).join(" ")}`}
              id={`${listId}-${index}`}
              role="option"
              aria-selected={index === active}
              className="cursor-pointer px-2.5 py-1 aria-selected:bg-accent-tint"
              onMouseDown={(event) => {
                event.preventDefault();
                lookup.choose(option);
              }}
            >
              <span className="flex items-baseline gap-3">
                <span className="truncate">{option.title}</span>
                {option.detail && <span className="ml-auto shrink-0 text-sm text-faint">{option.detail}</span>}
              </span>
              {option.second && <span className="block truncate text-sm text-faint">{option.second}</span>}
            </li>
          ))}
          {choices.isError && <li className="px-2.5 py-1 text-danger">{choices.error.message}</li>}
          {choices.data && options.length === 0 && (
            <li className="px-2.5 py-1 text-faint">No match. Type less of the name, or the number.</li>
          )}
          {choices.data?.hasMore && (
            <li className="px-2.5 py-1 text-sm text-faint">There are more. Type to narrow the list.</li>
          )}
          {lookup.target && choices.data && (
            <li
              id={`${listId}-${options.length}`}
              role="option"
              aria-selected={active === options.length}
              className="cursor-pointer border-t border-line px-2.5 py-1 text-accent aria-selected:bg-accent-tint"
              onMouseDown={(event) => {
                event.preventDefault();
                lookup.add();
              }}
            >
              Add {lookup.target.recordLabel}
              {typed?.trim() ? ` “${typed.trim()}”` : ""} …
            </li>
          )}
        </ul>
      )}
      {lookup.adding !== null &&
        lookup.target &&
        showAdding?.({ porch, target: lookup.target, typed: lookup.adding, onClose: lookup.added })}
      {isLost && (
        <p role="alert" className="mt-1 text-sm font-medium text-danger">
          “{typed?.trim()}” means {options.length === 0 ? "no record" : "several records"}. Choose one from the list, or
          press Escape to keep the previous value.
        </p>
      )}
      {!isLost && lookup.before !== null && (
        <p role="status" className="mt-1 text-sm font-medium text-danger">
          {lookup.isFound
            ? `By what was changed beside it, this is no longer “${lookup.before}”. Check it, or choose another.`
            : `By what was changed beside it, there is no such record any more (it was “${lookup.before}”). Choose another.`}
        </p>
      )}
      {!isLost && below}
    </div>
  );
}
