import type { Schemas } from "../../api/client";

/** What stays set aside of a part: all its records but some, or none but some. Records that stay keep their numbers, so there may be holes. */
export interface Left {
  isAll: boolean;
  but: number[];
}

/** Whether a record stays. */
export function isLeft(left: Left | undefined, number: number): boolean {
  return left !== undefined && left.isAll !== left.but.includes(number);
}

/** The same with one record turned over; undefined where nothing stays any more. */
export function turned(left: Left | undefined, number: number, count: number): Left | undefined {
  const { isAll, but } = left ?? { isAll: false, but: [] };
  const next = but.includes(number) ? but.filter((one) => one !== number) : [...but, number];
  if (next.length === (isAll ? count : 0)) return undefined;
  return next.length === (isAll ? 0 : count) ? { isAll: true, but: [] } : { isAll, but: next };
}

/** What is asked of the server for a part; nothing where all of it stays. */
export function wantedOf(place: number, left: Left | undefined): Schemas["WantedPart"][] {
  if (!left) return [{ place, numbers: null, without: null }];
  if (!left.isAll) return [{ place, numbers: null, without: left.but }];
  return left.but.length > 0 ? [{ place, numbers: left.but, without: null }] : [];
}
