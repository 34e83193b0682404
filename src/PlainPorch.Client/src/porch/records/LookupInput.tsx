import { useContext, useId } from "react";
import { inputClass, type FieldSlots } from "../../ui/Field";
import { AddingTarget } from "./addingTarget";
import { useLookup, type LookupOptions } from "./useLookup";

type LookupInputProps = LookupOptions & FieldSlots;

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
  const showAdding = useContext(AddingTarget);
  const lookup = useLookup({
    address,
    column,
    value,
    known,
    knownFor,
    onChoose,
    unsettled,
    canAdd: showAdding !== null,
  });
  const { list, field, shown, typed, isOpen, isLost, active, options, choices } = lookup;

  return (
    <div className="relative">
      <input
        {...slots}
        ref={field}
        aria-invalid={slots["aria-invalid"] ?? (isLost ? true : undefined)}
        role="combobox"
        aria-expanded={isOpen}
        aria-controls={listId}
        aria-autocomplete="list"
        aria-activedescendant={isOpen && (options.length > 0 || lookup.target) ? `${listId}-${active}` : undefined}
        data-column={column.name}
        autoComplete="off"
        className={inputClass}
        value={shown}
        placeholder={column.isNullable ? "none" : undefined}
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
      {isOpen && (
        <ul
          ref={list}
          id={listId}
          role="listbox"
          // What scrolls would else be a stop of Tab, and take the focus with it when it closes.
          tabIndex={-1}
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
                lookup.choose(option);
              }}
            >
              <span className="truncate">{option.title}</span>
              {option.detail && <span className="ml-auto shrink-0 text-sm text-faint">{option.detail}</span>}
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
        showAdding?.({
          porch: address.porch,
          target: lookup.target,
          typed: lookup.adding,
          onClose: lookup.added,
        })}
      {isLost && (
        <p role="alert" className="mt-1 text-sm font-medium text-danger">
          “{typed?.trim()}” means {options.length === 0 ? "no record" : "several records"}. Choose one from the list, or
          press Escape to keep the previous value.
        </p>
      )}
    </div>
  );
}
