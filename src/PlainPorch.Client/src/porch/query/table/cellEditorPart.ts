import { later } from "../../../ui/later";

/** The editor of a cell, which a list fetches while its reader still looks at it. */
export const CellEditorPart = later("cell editor", async () => (await import("./CellEditor")).CellEditor);
