/** What was just removed. */
export interface Removed {
  title: string;
  chosen: number;
  count: number;
  parcel: number | null;
}
