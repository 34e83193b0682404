import type { Schemas } from "../../api/client";
import { inputClass } from "../../ui/Field";

export type Form = Pick<Schemas["FormChoice"], "type" | "pattern">;

const keyOf = (form: Form) => `${form.type}\n${form.pattern ?? ""}`;

const SHORT: Record<string, string> = {
  "timestamp without time zone": "date and time",
  "timestamp with time zone": "moment",
  "time without time zone": "time",
  boolean: "yes/no",
  integer: "whole number",
  bigint: "large whole number",
  numeric: "number",
  uuid: "UUID",
  bytea: "bytes",
};

/** What a form is called. */
export function formWords({ type, pattern }: Form): string {
  const word = SHORT[type] ?? type;
  return pattern ? `${word}, ${pattern.replaceAll("\u00a0", "␣").replaceAll("\u202f", "␣")}` : word;
}

interface FormSelectProps {
  label: string;
  forms: Schemas["FormChoice"][];
  value: Form;
  onChange: (form: Form) => void;
}

/** Chooses how the texts of a column are read. */
export function FormSelect({ label, forms, value, onChange }: FormSelectProps) {
  const all = forms.some((form) => keyOf(form) === keyOf(value)) ? forms : [{ ...value, reading: "" }, ...forms];
  return (
    <select
      aria-label={label}
      className={inputClass}
      value={keyOf(value)}
      onChange={(event) => {
        const [type = "text", pattern = ""] = event.target.value.split("\n");
        onChange({ type, pattern: pattern === "" ? null : pattern });
      }}
    >
      {all.map((form) => (
        <option key={keyOf(form)} value={keyOf(form)}>
          {formWords(form)}
        </option>
      ))}
    </select>
  );
}
