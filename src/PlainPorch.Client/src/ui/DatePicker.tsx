import { Popover } from "radix-ui";
import { fromPicker, toPicker, type InputKind } from "../values/input";
import { later } from "./later";

const Calendar = later("calendar", async () => (await import("./Calendar")).Calendar);
const TimeChoice = later("time choice", async () => (await import("./Calendar")).TimeChoice);

interface DatePickerProps {
  kind: InputKind;
  typed: string;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  onType: (typed: string) => void;
  /** Takes the focus once something is chosen. */
  field: () => HTMLElement | null;
}

/** The button beside a field of dates or times, with what it opens. */
export function DatePicker({ kind, typed, isOpen, onOpenChange, onType, field }: DatePickerProps) {
  // It is wanted as soon as a field is seen: the first look must not wait for it.
  Calendar.useAhead();
  const label = kind === "time" ? "Choose a time" : "Choose from a calendar";
  const value = toPicker(kind, typed);
  return (
    <Popover.Root open={isOpen} onOpenChange={onOpenChange}>
      <Popover.Anchor className="pointer-events-none absolute inset-0" />
      <Popover.Trigger asChild>
        <button
          type="button"
          data-picker
          tabIndex={-1}
          aria-label={label}
          title={`${label} (Alt + ↓)`}
          className="absolute inset-y-0 right-0 grid w-9 place-items-center rounded text-faint hover:bg-tint"
        >
          <svg aria-hidden viewBox="0 0 16 16" className="size-4 fill-none stroke-current">
            {kind === "time" ? (
              <path d="M8 4.5V8l2.5 1.5M8 1.5a6.5 6.5 0 1 1 0 13 6.5 6.5 0 0 1 0-13Z" />
            ) : (
              <path d="M2.5 3.5h11v10h-11zM2.5 6.5h11M5.5 1.5v3M10.5 1.5v3" />
            )}
          </svg>
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          aria-label={label}
          className="z-30 max-w-[calc(100vw-1rem)] overflow-y-auto rounded border border-edge bg-sheet shadow-lg"
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            field()?.focus();
          }}
          // The form behind it has keys of its own.
          onKeyDown={(event) => {
            if (event.key !== "Tab") event.stopPropagation();
          }}
        >
          {kind === "time" ? (
            <div className="p-3">
              <TimeChoice.Part
                value={value}
                onChoose={(time: string) => {
                  onType(fromPicker(kind, time));
                }}
              />
            </div>
          ) : (
            <Calendar.Part
              value={value}
              hasTime={kind !== "date"}
              onChoose={(moment: string, isDone: boolean) => {
                onType(fromPicker(kind, moment));
                if (isDone) onOpenChange(false);
              }}
            />
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
