import { useId, useState, type ReactNode } from "react";
import type { Column } from "../../api/client";
import type { InputKind } from "../../values/input";

interface FormSectionProps {
  /** Its heading; "" for none. */
  section: string;
  /** Whether there is room for one column only. */
  isNarrow: boolean;
  isFolded: boolean;
  /** Whether something in it wants to be seen. */
  mustBeOpen: boolean;
  /** How many of its fields have a value. */
  filled: number;
  children: ReactNode;
}

/** Fields under a heading. Those that are rarely filled in wait until somebody opens them. */
export function FormSection({ section, isNarrow, isFolded, mustBeOpen, filled, children }: FormSectionProps) {
  const [isOpened, setOpened] = useState(!isFolded);
  const id = useId();
  const isOpen = isOpened || mustBeOpen;
  return (
    <fieldset className="min-w-0">
      {section && (
        <legend className="mb-2 font-serif text-base font-semibold">
          {isFolded ? (
            <button
              type="button"
              aria-expanded={isOpen}
              aria-controls={id}
              className="flex min-h-8 items-center gap-2 rounded hover:bg-tint"
              onClick={() => {
                setOpened(!isOpen);
              }}
            >
              <svg
                aria-hidden
                viewBox="0 0 16 16"
                className={`size-3.5 fill-none stroke-current stroke-2 ${isOpen ? "rotate-90" : ""}`}
              >
                <path d="m5 2 6 6-6 6" />
              </svg>
              {section}
              {!isOpen && (
                <span className="font-sans text-sm font-normal text-faint">
                  {filled === 0 ? "all empty" : `${filled} filled in`}
                </span>
              )}
            </button>
          ) : (
            section
          )}
        </legend>
      )}
      <div
        id={id}
        hidden={!isOpen}
        className={isOpen ? `grid gap-x-8 gap-y-4 ${isNarrow ? "" : "sm:grid-cols-6"}` : "hidden"}
      >
        {children}
      </div>
    </fieldset>
  );
}

const widths = { third: "sm:col-span-2", half: "sm:col-span-3", full: "sm:col-span-6" };

/** Where a field stands in the six tracks of a row. */
export function placeOf(column: Column, kind: InputKind): string {
  const isWide =
    kind === "paragraph" ||
    kind === "formatted" ||
    kind === "json" ||
    kind === "lines" ||
    column.within.some(({ from }) => !from);
  const width = widths[column.width ?? (isWide ? "full" : "half")];
  return `min-w-0 ${width} ${column.startsRow ? "sm:col-start-1" : ""}`;
}

interface FieldButtonProps {
  label: string;
  title: string;
  isOn?: boolean;
  onPress: () => void;
  children: ReactNode;
}

/** Something small to do with a field. Seen at the field that is typed into, and where it is on. */
export function FieldButton({ label, title, isOn, onPress, children }: FieldButtonProps) {
  const seen = isOn
    ? "font-medium text-accent"
    : "text-faint opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 focus-visible:opacity-100";
  return (
    <button
      type="button"
      aria-pressed={isOn}
      aria-label={label}
      title={title}
      // By Tab one goes from field to field; a key does it in the field itself.
      tabIndex={-1}
      className={`min-h-6 px-1 text-sm underline decoration-dotted underline-offset-4 ${seen}`}
      onClick={onPress}
    >
      {children}
    </button>
  );
}
