interface SameDatabaseProps {
  /** What the server says about it; undefined where it does not ask. */
  error: string | undefined;
  chosen: boolean | null;
  onChoose: (isSame: boolean) => void;
}

/** Asks, where a source leads to another database than before, whether what is set aside belongs to this one too. */
export function SameDatabase({ error, chosen, onChoose }: SameDatabaseProps) {
  if (error === undefined && chosen === null) return null;
  const offers: [boolean, string][] = [
    [true, "The same database, moved or restored: records set aside can be brought back into it"],
    [false, "A different database: records set aside stay with the previous one"],
  ];
  return (
    <fieldset className="border-l-4 border-danger bg-danger-tint px-3 py-2">
      <legend className="sr-only">Which database this is</legend>
      <p role={error === undefined ? undefined : "alert"}>{error ?? "This is another database than before."}</p>
      {offers.map(([isSame, label]) => (
        <label key={label} className="flex min-h-7 items-center gap-2">
          <input
            type="radio"
            name="isSameDatabase"
            className="size-4 shrink-0 accent-accent"
            checked={chosen === isSame}
            onChange={() => {
              onChoose(isSame);
            }}
          />
          {label}
        </label>
      ))}
    </fieldset>
  );
}
