import type { PanelDefinition } from "../../api/client";

const ofPanel: Record<string, string> = {
  label: "Plural name",
  recordLabel: "Singular name",
  title: "Title of a record",
  isHidden: "Left out of the menu",
  marker: "Marker of records that are set aside",
  removal: "How records are removed",
  duplicates: "What makes duplicates",
  order: "Running order",
  sort: "Order of the list",
  editsInList: "Changed in the list itself",
  only: "Which records it has",
  checks: "Checks",
  changeIf: "Which records can be changed",
  removeIf: "Which records can be removed",
};

const ofColumn: Record<string, string> = {
  label: "label",
  expression: "what it is computed of",
  byCode: "whether code computes it",
  shownIf: "when it is shown",
  requiredIf: "when it is required",
  startsAs: "what it is filled in with",
  inList: "in the list",
  searched: "searched",
  match: "how it is searched",
  caseCounts: "capitals count",
  ignoresAccents: "accents do not count",
  inForm: "in the form",
  required: "must be filled in",
  readOnly: "read-only",
  narrows: "narrows the list",
  isPicture: "shown as a picture",
  files: "where its files lie",
  isSensitive: "sensitive",
  isSecret: "secret",
  stamp: "filled in by the program",
  section: "heading in the form",
  reading: "what stored values mean",
  lookup: "what it refers to",
};

/** What a part of a panel is called, such as "Owner: in the list". */
export function partOf(part: string, definition: PanelDefinition): string {
  if (!part.startsWith("columns.")) return ofPanel[part] ?? part;
  const end = part.lastIndexOf(".");
  const name = part.slice("columns.".length, end);
  const column = definition.columns.find((known) => known.name === name);
  const decision = part.slice(end + 1);
  return `${column?.label ?? name}: ${ofColumn[decision] ?? decision}`;
}

/** What a part is, in a few words. */
export function saidOf(value: unknown): string {
  if (value === null || value === undefined || value === "") return "nothing";
  if (value === true) return "yes";
  if (value === false) return "no";
  if (typeof value === "string" || typeof value === "number") return String(value);
  if (Array.isArray(value)) return value.length === 0 ? "nothing" : value.map(saidOf).join(", ");
  return Object.entries(value as Record<string, unknown>)
    .filter(([, part]) => part !== null && part !== undefined && part !== false && part !== "none")
    .map(([name, part]) => (name === "table" ? tableOf(part) : `${name} ${saidOf(part)}`))
    .join(", ");
}

function tableOf(part: unknown): string {
  const { schema, name } = part as { schema: string; name: string };
  return `${schema}.${name}`;
}
