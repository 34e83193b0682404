import type { KeyboardEvent } from "react";
import type { Column } from "../../api/client";
import type { FieldSlots } from "../../ui/Field";
import { readArray } from "../../values/format";

interface ChecksProps extends FieldSlots {
  column: Column;
  typed: string;
  onType: (typed: string) => void;
}

/** Several values of a list: one box for each. The arrow keys go from box to box, so that Tab leaves the field. */
export function Checks({ column, typed, onType, id, ...slots }: ChecksProps) {
  const items = typed === "" ? [] : readArray(typed);
  const chosen = new Set(items ?? []);
  const change = (value: string) => {
    if (!chosen.delete(value)) chosen.add(value);
    onType(JSON.stringify(column.enumValues.filter((one) => chosen.has(one))));
  };
  return (
    <div
      role="group"
      data-checks
      aria-label={slots["aria-label"] ?? column.label}
      aria-describedby={slots["aria-describedby"]}
      className="flex max-h-80 flex-wrap gap-x-4 gap-y-1 overflow-y-auto rounded border border-edge bg-sheet px-2.5 py-1.5"
      onKeyDown={goAmongBoxes}
    >
      {column.enumValues.map((value, i) => (
        <label key={value} className="flex min-h-6 items-center gap-1.5">
          <input
            type="checkbox"
            id={i === 0 ? id : undefined}
            tabIndex={i === 0 ? 0 : -1}
            data-column={column.name}
            aria-invalid={slots["aria-invalid"]}
            className="size-4 accent-accent"
            checked={chosen.has(value)}
            onChange={() => {
              change(value);
            }}
          />
          {value}
        </label>
      ))}
      {items === null && <p className="w-full text-sm text-faint">Stored now: {typed} (does not fit)</p>}
    </div>
  );
}

function goAmongBoxes(event: KeyboardEvent<HTMLDivElement>) {
  const step = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
  if (step === undefined) return;
  event.preventDefault();
  const boxes = [...event.currentTarget.querySelectorAll("input")];
  const at = boxes.indexOf(event.target as HTMLInputElement);
  boxes[(at + step + boxes.length) % boxes.length]?.focus();
}
