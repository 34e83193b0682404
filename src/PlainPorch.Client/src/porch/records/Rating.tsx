import type { KeyboardEvent } from "react";
import type { Column } from "../../api/client";
import type { FieldSlots } from "../../ui/Field";

interface RatingProps extends FieldSlots {
  column: Column;
  typed: string;
  onType: (typed: string) => void;
}

const marks = ["1", "2", "3", "4", "5"];

/** A whole number from one to five, by marks in a row: arrows move, figures choose, Delete empties. */
export function Rating({ column, typed, onType, id, ...slots }: RatingProps) {
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (marks.includes(event.key)) {
      onType(event.key);
      // The chosen one is the group's stop of Tab.
      event.currentTarget.querySelector<HTMLElement>(`input[value="${event.key}"]`)?.focus();
    } else if (column.isNullable && ["0", "Delete", "Backspace"].includes(event.key)) onType("");
    else return;
    event.preventDefault();
  };
  return (
    <div {...slots} role="radiogroup" aria-label={column.label} className="flex items-center" onKeyDown={onKeyDown}>
      {marks.map((mark) => (
        <label
          key={mark}
          title={`${mark} of 5`}
          className="grid size-9 cursor-pointer place-items-center rounded has-focus-visible:outline-2 has-focus-visible:outline-accent"
        >
          <input
            id={mark === (typed === "" ? "1" : typed) ? id : undefined}
            type="radio"
            className="sr-only"
            name={id}
            aria-label={`${mark} of 5`}
            data-column={column.name}
            value={mark}
            checked={mark === typed}
            onChange={() => {
              onType(mark);
            }}
          />
          <span
            aria-hidden
            className={`size-4.5 rotate-45 border ${Number(mark) <= Number(typed) ? "border-ink bg-ink" : "border-edge bg-sheet"}`}
          />
        </label>
      ))}
      <span className="ml-2 text-sm text-faint">{typed === "" ? "none" : `${typed} of 5`}</span>
      {column.isNullable && typed !== "" && (
        <button
          type="button"
          tabIndex={-1}
          className="ml-2 text-sm text-faint underline underline-offset-4"
          onClick={() => {
            onType("");
          }}
        >
          Clear
        </button>
      )}
    </div>
  );
}
