import { useRef, type InputHTMLAttributes } from "react";
import { inputClass } from "./Field";
import { fromPicker, readTyped, toInput, toPicker, type InputKind } from "../values/input";

interface DateInputProps extends Omit<InputHTMLAttributes<HTMLInputElement>, "onChange"> {
  kind: Extract<InputKind, "date" | "dateTime" | "moment" | "time">;
  value: string;
  onType: (typed: string) => void;
}

const widths = { date: "max-w-48", dateTime: "max-w-64", moment: "max-w-64", time: "max-w-40" };

/**
 * A date or time, typed as people write it; what was understood is written out when the field is left. Beside it the browser's
 * own calendar, for those who would rather choose.
 */
export function DateInput({ kind, value, onType, ...rest }: DateInputProps) {
  const picker = useRef<HTMLInputElement>(null);
  const type = kind === "moment" || kind === "dateTime" ? "datetime-local" : kind;
  return (
    <span className={`relative block ${widths[kind]}`}>
      <input
        {...rest}
        value={value}
        data-reads={kind}
        autoComplete="off"
        maxLength={60}
        className={`${inputClass} pr-9`}
        onChange={(event) => {
          onType(event.target.value);
        }}
        onBlur={() => {
          const read = readTyped(kind, value);
          if (read) onType(toInput(kind, read));
        }}
      />
      <button
        type="button"
        data-picker
        tabIndex={-1}
        aria-label={kind === "time" ? "Choose a time" : "Choose from a calendar"}
        className="absolute inset-y-0 right-0 grid w-9 place-items-center rounded text-faint hover:bg-tint"
        onClick={() => picker.current?.showPicker()}
      >
        <svg aria-hidden viewBox="0 0 16 16" className="size-4 fill-none stroke-current">
          {kind === "time" ? (
            <path d="M8 4.5V8l2.5 1.5M8 1.5a6.5 6.5 0 1 1 0 13 6.5 6.5 0 0 1 0-13Z" />
          ) : (
            <path d="M2.5 3.5h11v10h-11zM2.5 6.5h11M5.5 1.5v3M10.5 1.5v3" />
          )}
        </svg>
      </button>
      <input
        ref={picker}
        type={type}
        tabIndex={-1}
        aria-hidden
        className="pointer-events-none absolute right-0 bottom-0 size-0 opacity-0"
        value={toPicker(kind, value)}
        onChange={(event) => {
          if (event.target.value !== "") onType(fromPicker(kind, event.target.value));
        }}
      />
    </span>
  );
}
