import { useEffect, type RefObject } from "react";

/** What stands over the list while it scrolls marks itself with this attribute. */
export const overList = { "data-over-list": "" };

/**
 * Keeps a table's head in sight while the page scrolls. CSS alone does not: the box around the table, which lets it be moved
 * sideways, is what a sticky head would keep to.
 */
export function useHeadInSight(table: RefObject<HTMLTableElement | null>) {
  useEffect(() => {
    const place = () => {
      const head = table.current?.tHead;
      if (!table.current || !head) return;
      const bar = document.querySelector("[data-over-list]")?.getBoundingClientRect();
      const { top, height } = table.current.getBoundingClientRect();
      const shift = shiftOf({ top, height, head: head.offsetHeight, covered: bar && bar.top <= 0 ? bar.bottom : 0 });
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
  /** How much of the window is covered from its top. */
  covered: number;
}

/** How far the head is moved down within its table: never out of it. */
export function shiftOf({ top, height, head, covered }: Places): number {
  return Math.round(Math.min(Math.max(0, covered - top), Math.max(0, height - head)));
}
