import { useRef, useState, type KeyboardEvent } from "react";

interface LabelCellProps {
  label: string;
  error: string | undefined;
  onChange: (label: string) => void;
  /** Moves the focus by rows after an edit. */
  onMove: (by: number) => void;
  tabIndex: number;
  onFocus: () => void;
  "data-place": string;
}

/** A cell that typing turns into an input: Enter keeps and goes down, Escape gives up. */
export function LabelCell({ label, error, onChange, onMove, ...cell }: LabelCellProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const button = useRef<HTMLButtonElement>(null);

  const keep = () => {
    if (typed !== null && typed.trim() !== label) onChange(typed.trim());
    setTyped(null);
  };
  const backToCell = () => {
    requestAnimationFrame(() => button.current?.focus());
  };
  const onInputKey = (event: KeyboardEvent) => {
    if (event.key === "Enter") {
      event.preventDefault();
      keep();
      requestAnimationFrame(() => {
        onMove(1);
      });
    } else if (event.key === "Escape") {
      event.preventDefault();
      setTyped(null);
      backToCell();
    } else if (event.key === "Tab") {
      keep();
    }
  };
  const onCellKey = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    if (event.key === "Enter" || event.key === "F2") {
      event.preventDefault();
      setTyped(label);
    } else if (event.key.length === 1 && event.key !== " ") {
      // The key itself becomes the first letter: the input takes the focus while it is still down.
      event.preventDefault();
      setTyped(event.key);
    }
  };

  return (
    <td className="p-0 align-middle">
      {typed === null ? (
        <button
          {...cell}
          ref={button}
          type="button"
          aria-label={`Label: ${label}`}
          onKeyDown={onCellKey}
          onClick={() => {
            setTyped(label);
          }}
          className="min-h-10 w-full min-w-32 px-2 text-left hover:bg-tint focus-visible:-outline-offset-2"
        >
          {label}
        </button>
      ) : (
        <input
          autoFocus
          aria-label="Label"
          value={typed}
          maxLength={200}
          onChange={(event) => {
            setTyped(event.target.value);
          }}
          onKeyDown={onInputKey}
          onBlur={keep}
          className="min-h-10 w-full min-w-32 bg-sheet px-2"
        />
      )}
      {error && (
        <p role="alert" className="px-2 pb-1 text-danger">
          {error}
        </p>
      )}
    </td>
  );
}
