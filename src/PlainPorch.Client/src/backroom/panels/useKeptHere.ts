import { useState } from "react";

/** What is being written and not added yet. It is there again when the page is left and opened again. */
export function useKeptHere<T extends object>(place: string, empty: T) {
  const [value, setValue] = useState<T>(() => ({
    ...empty,
    ...(JSON.parse(sessionStorage.getItem(place) ?? "{}") as Partial<T>),
  }));
  return {
    value,
    change: (part: Partial<T>) => {
      const now = { ...value, ...part };
      sessionStorage.setItem(place, JSON.stringify(now));
      setValue(now);
    },
    drop: () => {
      sessionStorage.removeItem(place);
    },
  };
}

/** Whether something is kept at a place. */
export const isKeptHere = (place: string) => sessionStorage.getItem(place) !== null;
