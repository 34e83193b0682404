import type { Panel, RecordView } from "../../api/client";

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
