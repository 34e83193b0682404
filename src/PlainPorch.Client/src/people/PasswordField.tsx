import { useState } from "react";
import { Field, inputClass } from "../ui/Field";

interface PasswordFieldProps {
  label?: string;
  value: string;
  onChange: (value: string) => void;
  error?: string | undefined;
  /** Whether it is chosen now, and not known before. */
  isNew?: boolean;
  autoFocus?: boolean;
}

/** A password, which can be looked at while it is typed. */
export function PasswordField({
  label = "Password",
  value,
  onChange,
  error,
  isNew = false,
  autoFocus = false,
}: PasswordFieldProps) {
  const [isShown, setShown] = useState(false);
  return (
    <Field
      label={label}
      error={error}
      hint={isNew ? "At least 10 characters. Four words that do not belong together are easy to remember." : undefined}
    >
      {(slots) => (
        <>
          <input
            {...slots}
            type={isShown ? "text" : "password"}
            value={value}
            autoComplete={isNew ? "new-password" : "current-password"}
            autoFocus={autoFocus}
            required
            onChange={(event) => {
              onChange(event.target.value);
            }}
            className={inputClass}
          />
          {/* Behind the field, so that Tab leads from the address to the password. */}
          <label className="flex items-center gap-1.5 justify-self-end text-sm">
            <input
              type="checkbox"
              checked={isShown}
              onChange={(event) => {
                setShown(event.target.checked);
              }}
            />
            Show
          </label>
        </>
      )}
    </Field>
  );
}
