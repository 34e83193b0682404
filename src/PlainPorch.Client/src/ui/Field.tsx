import { useId, type ReactNode } from "react";

export interface FieldSlots {
  id: string;
  "aria-invalid": boolean | undefined;
  "aria-describedby": string | undefined;
  /** What it is called, where no label stands beside it. */
  "aria-label"?: string | undefined;
}

interface FieldProps {
  label: ReactNode;
  hint?: ReactNode;
  error?: string | undefined;
  /** What is odd about what was typed, though it can be saved. */
  warning?: string | null;
  needed?: boolean;
  /** Something small to do with it, beside the label. */
  aside?: ReactNode;
  children: (slots: FieldSlots) => ReactNode;
}

/** A label with its control, hint and error, tied together for screen readers. */
export function Field({ label, hint, error, warning, needed = false, aside, children }: FieldProps) {
  const id = useId();
  const notes = [hint && !error ? `${id}-hint` : null, error ? `${id}-error` : null]
    .filter((note) => note !== null)
    .join(" ");
  return (
    <div className="group grid content-start gap-1">
      <div className="flex items-end justify-between gap-2">
        <label htmlFor={id} className="text-sm font-medium">
          {label}
          {needed && <span className="font-normal text-faint"> · required</span>}
        </label>
        {aside}
      </div>
      {children({ id, "aria-invalid": error ? true : undefined, "aria-describedby": notes || undefined })}
      {hint && !error && (
        <p id={`${id}-hint`} className="text-sm text-faint">
          {hint}
        </p>
      )}
      {warning && !error && (
        <p role="status" className="text-sm font-medium">
          {warning}
        </p>
      )}
      {error && (
        <p id={`${id}-error`} className="text-sm font-medium text-danger" role="alert">
          {error}
        </p>
      )}
    </div>
  );
}

export const inputClass =
  "w-full min-h-9 rounded border border-edge bg-sheet px-2.5 py-1.5 text-ink placeholder:text-faint aria-invalid:border-danger aria-invalid:bg-danger-tint disabled:bg-tint";
