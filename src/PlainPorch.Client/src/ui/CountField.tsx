import { Field, inputClass } from "./Field";

interface CountFieldProps {
  label: string;
  value: string;
  error?: string;
  onType: (text: string) => void;
}

/** A field for a whole number, typed as a person writes it. */
export function CountField({ label, value, error, onType }: CountFieldProps) {
  return (
    <Field label={label} error={error}>
      {(slots) => (
        <input
          {...slots}
          className={inputClass}
          inputMode="numeric"
          autoComplete="off"
          value={value}
          onChange={(event) => {
            onType(event.target.value);
          }}
        />
      )}
    </Field>
  );
}
