import { createContext, type ReactNode } from "react";
import type { Schemas } from "../../api/client";

export interface AddTargetProps {
  porch: string;
  target: Schemas["NewTarget"];
  /** What was typed to find it, which it is likely to be called. */
  typed: string;
  /** Called with the value that refers to the new record; null where none was added. */
  onClose: (value: string | null) => void;
}

/**
 * Shows what adds a record that a lookup wants to refer to; null where none can be added. It is given from above, because the form that it
 * shows has lookups of its own.
 */
export const AddingTarget = createContext<((props: AddTargetProps) => ReactNode) | null>(null);
