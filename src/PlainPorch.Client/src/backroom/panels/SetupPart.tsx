import { useState, type ReactNode } from "react";

/** A part of the set-up that is opened to be seen. What stands in it, and may ask the source something, comes with that. */
export function SetupPart({ title, children }: { title: ReactNode; children: ReactNode }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <details
      className="border border-line bg-sheet p-3"
      onToggle={({ currentTarget }) => {
        setOpen(currentTarget.open);
      }}
    >
      <summary className="cursor-pointer font-medium">{title}</summary>
      {isOpen && <div className="mt-3 grid gap-4">{children}</div>}
    </details>
  );
}
