import type { QueryClient } from "@tanstack/react-query";
import { bareOf } from "../../api/bare";
import type { Panel, RecordView } from "../../api/client";
import { defaultView } from "../../api/listView";
import { listQuery, panelQuery } from "../../api/queries";
import { nameOf } from "./belonging";

/** What the set-up lets a new record begin with. */
export function startValues(panel: Panel): (readonly [string, string])[] {
  return panel.columns.flatMap(({ name, isWritable, startValue }) =>
    isWritable && startValue !== null ? [[name, startValue] as const] : [],
  );
}

/** What a copy begins with: all but what tells the original apart, and what nobody types. */
export function valuesToCopy(panel: Panel, original: RecordView): (readonly [string, string])[] {
  return panel.columns.flatMap(({ name, isWritable }) => {
    const value = original.values[name];
    return isWritable && !panel.identity.includes(name) && typeof value === "string" ? [[name, value] as const] : [];
  });
}

const MOST_LINES = 100;

/** Of a record's lines in other panels that are typed in the same form, what copies of them begin with. */
export async function linesToCopy(client: QueryClient, porch: string, panel: Panel, original: RecordView) {
  const all: [string, Record<string, string>[]][] = [];
  for (const typed of panel.typed.filter(({ isOne }) => !isOne)) {
    const address = { porch, panel: typed.panel };
    const other = await client.query(panelQuery(address));
    const names = other.columns
      .filter(({ name, isWritable, inForm }) => isWritable && inForm && name !== typed.column)
      .map(({ name }) => name);
    const page = await client.query(
      listQuery(address, {
        ...defaultView,
        size: MOST_LINES,
        of: typed.column,
        value: original.values[typed.key] ?? "",
        columns: names,
      }),
    );
    all.push([
      nameOf(typed),
      page.rows.map((row) =>
        bareOf(
          page.columns.flatMap((name, i) => {
            const value = row.values[i];
            return names.includes(name) && typeof value === "string" ? [[name, value] as const] : [];
          }),
        ),
      ),
    ]);
  }
  return bareOf(all);
}
