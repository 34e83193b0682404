import { useLayoutEffect, useRef, useState } from "react";
import { bareOf } from "../../../api/bare";
import type { ListLook } from "./useListLook";

/** The columns that were pinned before all others, else in their order. */
export function pinnedFirst<T extends { name: string }>(columns: T[], pinned: string[]): T[] {
  const isPinned = (column: T) => pinned.includes(column.name);
  return [...columns.filter(isPinned), ...columns.filter((column) => !isPinned(column))];
}

/** Where each pinned column stays, from the left: that depends on how wide those before it have become. */
export function usePinnedPlaces(columns: { name: string }[], look: ListLook, before: number) {
  const table = useRef<HTMLTableElement>(null);
  const [places, setPlaces] = useState(() => bareOf<number>([]));
  useLayoutEffect(() => {
    const heads = [...(table.current?.querySelectorAll<HTMLElement>("thead th") ?? [])];
    const next = new Map<string, number>();
    let left = heads.splice(0, before).reduce((sum, head) => sum + head.offsetWidth, 0);
    columns.forEach(({ name }, place) => {
      if (!look.pinned.includes(name)) return;
      next.set(name, left);
      left += heads[place]?.offsetWidth ?? 0;
    });
    const made = bareOf(next);
    setPlaces((before) => (JSON.stringify(before) === JSON.stringify(made) ? before : made));
  }, [columns, look, before]);
  return { table, places };
}
