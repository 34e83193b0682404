import { Field, inputClass } from "../../ui/Field";

interface ChoiceProps {
  label: string;
  /** The chosen value; "" for none. */
  value: string;
  options: readonly { value: string; label: string }[];
  error?: string | undefined;
  onChoose: (value: string) => void;
}

/** One of some values of the draft. */
export function Choice({ label, value, options, error, onChoose }: ChoiceProps) {
  return (
    <Field label={label} error={error}>
      {(slots) => (
        <select
          {...slots}
          className={inputClass}
          value={value}
          onChange={(event) => {
            onChoose(event.target.value);
          }}
        >
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.label}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}
