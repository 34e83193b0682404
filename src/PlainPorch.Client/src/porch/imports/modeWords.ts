import type { Schemas } from "../../api/client";

/** What an import does with the records, in words. */
export const modeWords: Record<Schemas["PanelImportMode"], string> = {
  add: "Add a record for each row",
  update: "Change the records that the file has",
  upsert: "Change those, and add the others",
  mirror: "Make the panel like the file: set aside what it does not have",
  replace: "Replace: set all records aside, and add the rows",
};
