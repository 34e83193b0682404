import { useState } from "react";

export interface Selection {
  keys: ReadonlySet<string>;
  toggle: (key: string) => void;
  /** Chooses all of some records, or lets go of them where all are chosen. */
  toggleAll: (keys: string[]) => void;
  set: (keys: string[]) => void;
}

/** The records that were chosen, by their keys, on whatever page they stand. */
export function useSelection(): Selection {
  const [keys, setKeys] = useState<ReadonlySet<string>>(new Set());
  return {
    keys,
    toggle: (key) => {
      setKeys((before) => {
        const next = new Set(before);
        if (!next.delete(key)) next.add(key);
        return next;
      });
    },
    toggleAll: (some) => {
      setKeys((before) => {
        const next = new Set(before);
        if (some.every((key) => before.has(key))) for (const key of some) next.delete(key);
        else for (const key of some) next.add(key);
        return next;
      });
    },
    set: (some) => {
      setKeys(new Set(some));
    },
  };
}
