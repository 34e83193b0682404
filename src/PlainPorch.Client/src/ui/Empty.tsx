import type { ReactNode } from "react";

interface EmptyProps {
  title: ReactNode;
  /** What would help, and the next step. */
  children?: ReactNode;
}

/** A place where nothing is to be shown, and why. */
export function Empty({ title, children }: EmptyProps) {
  return (
    <div className="border-y border-line bg-sheet px-4 py-10 text-center">
      <p className="font-serif text-lg">{title}</p>
      {children}
    </div>
  );
}
