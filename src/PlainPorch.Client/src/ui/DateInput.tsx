import { useRef, useState, type InputHTMLAttributes } from "react";
import { inputClass } from "./Field";
import { DatePicker } from "./DatePicker";
import { readTyped, toInput, type InputKind } from "../values/input";

interface DateInputProps extends Omit<InputHTMLAttributes<HTMLInputElement>, "onChange"> {
  kind: Extract<InputKind, "date" | "dateTime" | "moment" | "time">;
  value: string;
  onType: (typed: string) => void;
}

const widths = { date: "max-w-48", dateTime: "max-w-64", moment: "max-w-64", time: "max-w-40" };

/**
 * A date or time, typed as people write it; what was understood is written out when the field is left. Beside it a calendar, for those
 * who would rather choose: Alt with the down arrow opens it from the field.
 */
export function DateInput({ kind, value, onType, ...rest }: DateInputProps) {
  const field = useRef<HTMLInputElement>(null);
  const [isOpen, setOpen] = useState(false);
  return (
    <span className={`relative block ${widths[kind]}`}>
      <input
        {...rest}
        ref={field}
        value={value}
        data-reads={kind}
        autoComplete="off"
        maxLength={60}
        className={`${inputClass} pr-9`}
        onChange={(event) => {
          onType(event.target.value);
        }}
        onKeyDown={(event) => {
          const button = event.currentTarget.parentElement?.querySelector<HTMLElement>("[data-picker]");
          if (!event.altKey || event.key !== "ArrowDown" || !button?.offsetParent) return;
          event.preventDefault();
          setOpen(true);
        }}
        onBlur={() => {
          const read = readTyped(kind, value);
          if (read) onType(toInput(kind, read));
        }}
      />
      <DatePicker
        kind={kind}
        typed={value}
        isOpen={isOpen}
        onOpenChange={setOpen}
        onType={onType}
        field={() => field.current}
      />
    </span>
  );
}
