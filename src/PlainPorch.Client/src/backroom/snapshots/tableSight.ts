import type { Schemas } from "../../api/client";

type Table = Schemas["TableSummary"];

/** Which tables of a source are looked at; "" for all. */
export interface TableSight {
  group: string;
  shape: NonNullable<Schemas["TableShape"]> | "";
  rows: "" | "some" | "none";
}

export const everyTable: TableSight = { group: "", shape: "", rows: "" };

export function isWithin(table: Table, { group, shape, rows }: TableSight): boolean {
  if (group && table.group !== group) return false;
  if (shape && table.shape !== shape) return false;
  if (rows === "") return true;
  return isEmpty(table) === (rows === "none");
}

function isEmpty({ rows, estimatedRows }: Table): boolean {
  return (rows ?? estimatedRows ?? 0) === 0;
}

/** The groups and shapes that there are to choose among. */
export function choicesOf(tables: Table[]): { groups: string[]; shapes: NonNullable<Schemas["TableShape"]>[] } {
  return {
    groups: [
      ...new Set(tables.map(({ group }) => group).filter((group): group is string => group !== null && group !== "")),
    ],
    shapes: [
      ...new Set(
        tables.map(({ shape }) => shape).filter((shape): shape is NonNullable<typeof shape> => shape !== null),
      ),
    ],
  };
}
