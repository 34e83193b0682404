import type { Schemas } from "../../api/client";

type Told<T> = Required<T>;

export type Act = Schemas["PanelActs"];
export type OnPanel = Told<Omit<Schemas["RoleOnPanel"], "columns">> & { columns: Told<Schemas["ColumnRight"]>[] };
export type Role = Told<Omit<Schemas["RoleDefinition"], "panels">> & { panels: OnPanel[] };

/** The roles as the server tells them: with everything that they may have. */
export const toldRoles = (roles: Schemas["RoleDefinition"][]) => roles as Role[];

/** What can be done with a panel's records, as people say it: as a wish, and as a fact. */
export const acts: { act: Act; label: string; short: string }[] = [
  { act: "add", label: "Add records", short: "add" },
  { act: "change", label: "Change records", short: "change" },
  { act: "setAside", label: "Set records aside", short: "set aside" },
  { act: "bringBack", label: "Bring records back", short: "bring back" },
  { act: "erase", label: "Erase records for good", short: "erase" },
  { act: "reorder", label: "Put records in order", short: "reorder" },
  { act: "merge", label: "Merge duplicates", short: "merge" },
  { act: "changeMany", label: "Change many at once", short: "change many" },
  { act: "export", label: "Export", short: "export" },
  { act: "seeSetAside", label: "See what is set aside", short: "see set aside" },
  { act: "seeHistory", label: "See the history", short: "see history" },
];

/** What a role may do with a panel, its exceptions taken into account; null where it does not see it. */
export function rightsOn(role: Role, panel: string): Act[] | null {
  const on = role.panels.find((one) => one.panel === panel);
  if (!(on?.sees ?? role.sees)) return null;
  const may = on?.may ?? role.may;
  return may.includes("all")
    ? acts.map((one) => one.act)
    : acts.map((one) => one.act).filter((act) => may.includes(act));
}

/** What a role may do where nothing else is said, in words. */
export const saysUsually = (role: Role) =>
  role.sees ? inWords(rightsOn({ ...role, panels: [] }, "") ?? []) : "not seen";

const inWords = (rights: Act[]) =>
  rights.length === 0
    ? "seen"
    : rights.length === acts.length
      ? "everything"
      : acts
          .filter((one) => rights.includes(one.act))
          .map((one) => one.short)
          .join(", ");

/** What a role may do with a panel in words, as a table tells it. */
export function saysOn(role: Role, panel: string, label: (column: string) => string = (column) => column): string[] {
  const rights = rightsOn(role, panel);
  if (rights === null) return ["not seen"];
  const on = role.panels.find((one) => one.panel === panel);
  const said = (access: Schemas["ColumnAccess"], word: string) => {
    const names = (on?.columns ?? []).filter((column) => column.access === access).map((column) => label(column.name));
    return names.length > 0 ? [`${word}: ${names.join(", ")}`] : [];
  };
  return [
    inWords(rights),
    ...(on?.rows ? [`only where ${on.rows}`] : []),
    ...said("hidden", "hidden"),
    ...said("masked", "masked"),
    ...said("readOnly", "read-only"),
  ];
}

/** A name for addresses made of one that people read, unlike those that are taken. */
export function slugOf(name: string, taken: string[]): string {
  const base =
    name
      .toLowerCase()
      .normalize("NFD")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "") || "role";
  for (let number = 1; ; number++) {
    const slug = number === 1 ? base : `${base}-${number}`;
    if (!taken.includes(slug)) return slug;
  }
}
