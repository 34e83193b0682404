import { useState } from "react";
import { Field, inputClass } from "../../ui/Field";

interface DraftFieldProps {
  label: string;
  value: string;
  error: string | undefined;
  onKeep: (value: string) => void;
}

/** A text of the draft: kept on Enter or on leaving the field, given up on Escape. */
export function DraftField({ label, value, error, onKeep }: DraftFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    if (typed !== null && typed.trim() !== value) onKeep(typed.trim());
    setTyped(null);
  };
  return (
    <Field label={label} error={error}>
      {(slots) => (
        <input
          {...slots}
          className={inputClass}
          maxLength={200}
          value={typed ?? value}
          onChange={(event) => {
            setTyped(event.target.value);
          }}
          onBlur={keep}
          onKeyDown={(event) => {
            if (event.key === "Enter") keep();
            else if (event.key === "Escape") setTyped(null);
          }}
        />
      )}
    </Field>
  );
}
