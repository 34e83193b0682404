import { useEffect, type RefObject } from "react";

/**
 * Keeps a table's head in sight while the page scrolls. CSS alone does not: the box around the table, which lets it be moved
 * sideways, is what a sticky head would keep to.
 */
export function useHeadInSight(table: RefObject<HTMLTableElement | null>) {
  useEffect(() => {
    const place = () => {
      const head = table.current?.tHead;
      if (!table.current || !head) return;
      const { top, height } = table.current.getBoundingClientRect();
      const shift = shiftOf({ top, height, head: head.offsetHeight });
      head.style.setProperty("transform", shift === 0 ? null : `translateY(${shift}px)`);
    };
    place();
    window.addEventListener("scroll", place, { passive: true });
    window.addEventListener("resize", place);
    return () => {
      window.removeEventListener("scroll", place);
      window.removeEventListener("resize", place);
    };
  });
}

interface Places {
  /** Where the table begins, from the top of the window. */
  top: number;
  height: number;
  /** How high its head is. */
  head: number;
}

/** How far the head is moved down within its table: never out of it. */
export function shiftOf({ top, height, head }: Places): number {
  return Math.round(Math.min(Math.max(0, -top), Math.max(0, height - head)));
}
