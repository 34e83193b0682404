import type { Column } from "../../api/client";
import type { FieldSlots } from "../../ui/Field";

interface SegmentsProps extends FieldSlots {
  column: Column;
  typed: string;
  /** The value as the record has it, which may be none of the choices. */
  present: string | null;
  isNew: boolean;
  onType: (typed: string) => void;
}

/** One of a few values, all of them in sight: arrows choose. */
export function Segments({ column, typed, present, isNew, onType, id, ...slots }: SegmentsProps) {
  const choices =
    column.kind === "boolean"
      ? [
          { value: "true", label: "Yes" },
          { value: "false", label: "No" },
        ]
      : column.enumValues.map((value) => ({ value, label: value }));
  const isOdd = present !== null && !choices.some(({ value }) => value === present);
  const canBeEmpty = column.isNullable || isNew || typed === "";
  const all = [
    ...choices,
    ...(isOdd ? [{ value: present, label: `${present} (does not fit)` }] : []),
    ...(canBeEmpty ? [{ value: "", label: isNew && column.isSupplied ? "default" : "empty" }] : []),
  ];
  return (
    <div {...slots} role="radiogroup" aria-label={column.label} className="flex flex-wrap">
      {all.map(({ value, label }, at) => (
        <label
          key={value}
          className="-ml-px flex min-h-9 cursor-pointer items-center border border-edge bg-sheet px-3 py-1 text-[15px] first:ml-0 first:rounded-l last:rounded-r has-checked:bg-accent-tint has-checked:font-medium has-focus-visible:relative has-focus-visible:outline-2 has-focus-visible:outline-accent"
        >
          <input
            // The label above leads to what is chosen, or to the first.
            id={(all.some((one) => one.value === typed) ? value === typed : at === 0) ? id : undefined}
            type="radio"
            className="sr-only"
            name={id}
            data-column={column.name}
            value={value}
            checked={value === typed}
            onChange={() => {
              onType(value);
            }}
          />
          <span className={value === "" ? "text-faint" : ""}>{label}</span>
        </label>
      ))}
    </div>
  );
}
