import type { ReactNode } from "react";

/** A value that does not fit what its column means: it stands there as it is stored, marked. */
export function Unfit({ children }: { children: ReactNode }) {
  const why = "This does not fit what the column means. It is shown as it is stored, and stays so until it is changed.";
  return (
    <span title={why}>
      <span className="underline decoration-danger decoration-dotted underline-offset-4">{children}</span>
      <span className="sr-only"> (does not fit)</span>
    </span>
  );
}
