import type { InputHTMLAttributes } from "react";

interface ColourInputProps extends InputHTMLAttributes<HTMLInputElement> {
  value: string;
  /** Whether there is no room for the mark before the digits. */
  isBare: boolean;
  onChange: (event: { target: { value: string } }) => void;
}

/** A colour by its six hexadecimal digits, with a sample that opens a choice. With or without a mark before them, as it was. */
export function ColourInput({ value, isBare, onChange, className = "", ...rest }: ColourInputProps) {
  const digits = /^#?([0-9a-f]{6})$/i.exec(value.trim())?.[1];
  return (
    <span className="flex max-w-56 items-center gap-2">
      <input
        type="color"
        tabIndex={-1}
        aria-label="Choose a colour"
        className={`size-9 shrink-0 rounded border border-edge p-0.5 ${digits ? "" : "opacity-40"}`}
        value={`#${digits ?? "ffffff"}`}
        onChange={({ target }) => {
          const chosen = target.value.slice(1);
          const hasMark = value.trim() === "" ? !isBare : value.trim().startsWith("#");
          onChange({ target: { value: hasMark ? `#${chosen}` : chosen } });
        }}
      />
      <input
        {...rest}
        value={value}
        data-reads="colour"
        spellCheck={false}
        autoComplete="off"
        className={`${className} font-mono`}
        onChange={onChange}
      />
    </span>
  );
}
