interface TickProps {
  label: string;
  isOn: boolean;
  onTurn: (isOn: boolean) => void;
  isSmall?: boolean;
}

/** Something that is so or not, with its label. */
export function Tick({ label, isOn, onTurn, isSmall = false }: TickProps) {
  return (
    <label className={isSmall ? "flex items-center gap-1 text-sm" : "flex min-h-8 items-center gap-2"}>
      <input
        type="checkbox"
        className={`accent-accent ${isSmall ? "size-4" : "size-5"}`}
        checked={isOn}
        onChange={(event) => {
          onTurn(event.target.checked);
        }}
      />
      {label}
    </label>
  );
}
