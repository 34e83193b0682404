import type { Schemas } from "../../../api/client";

export type Field = Schemas["ConditionField"];
export type Sort = Field["sorts"][number];

/** One condition, as it is being put together. */
export interface Test {
  id: number;
  isNot: boolean;
  /** The field's column and what is asked of the record that it refers to; "" for the column itself. */
  column: string;
  of: string;
  is: Sort;
  values: string[];
  /** The column to compare with instead of a value; "" for a value. */
  other: string;
}

/** Conditions of which all or one has to hold. */
export interface Group {
  id: number;
  isNot: boolean;
  joint: "all" | "any";
  parts: (Group | Test)[];
}

interface Condition {
  all?: Condition[];
  any?: Condition[];
  not?: Condition;
  column?: string;
  of?: string;
  is?: Sort;
  values?: string[];
  other?: string;
}

let last = 0;
const nextId = () => ++last;

export const isGroup = (part: Group | Test): part is Group => "joint" in part;

export const emptyGroup = (): Group => ({ id: nextId(), isNot: false, joint: "all", parts: [] });

/** A condition on a field, to be filled in. */
export function newTest(field: Field | undefined): Test {
  const test = { id: nextId(), isNot: false, column: "", of: "", is: "empty" as Sort, values: [""], other: "" };
  return field ? about(test, field) : test;
}

/** The condition, about another field: what it asks stays if that can be asked there too. */
export function about(test: Test, field: Field): Test {
  const is = field.sorts.includes(test.is) && test.column !== "" ? test.is : (field.sorts[0] ?? "empty");
  return { ...test, column: field.column, of: field.of ?? "", is, values: valuesFor(is, test.values), other: "" };
}

/** As many values as a condition of a sort asks for, those that are there kept. */
export function valuesFor(is: Sort, values: string[]): string[] {
  switch (is) {
    case "empty":
    case "filled":
      return [];
    case "between":
      return [values[0] ?? "", values[1] ?? ""];
    case "inThis":
      return [["day", "week", "month", "year"].includes(values[0] ?? "") ? (values[0] ?? "") : "month"];
    case "inLast":
    case "inNext":
      return [/^\d+ (days|weeks|months|years)$/.test(values[0] ?? "") ? (values[0] ?? "") : "30 days"];
    case "is":
    case "contains":
    case "startsWith":
      return values.length > 0 ? values : [""];
    default:
      return [values[0] ?? ""];
  }
}

/** Conditions as they stand in the address, to be changed. */
export function readTree(where: string): Group {
  if (where === "") return emptyGroup();
  try {
    const part = readPart(JSON.parse(where) as Condition);
    return isGroup(part) && !part.isNot ? part : { ...emptyGroup(), parts: [part] };
  } catch {
    // The list says that it could not be read; here one begins anew.
    return emptyGroup();
  }
}

function readPart(node: Condition): Group | Test {
  if (node.not) {
    const part = readPart(node.not);
    return { ...part, isNot: !part.isNot };
  }
  const parts = node.all ?? node.any;
  if (parts)
    return { id: nextId(), isNot: false, joint: node.all ? "all" : "any", parts: parts.map((part) => readPart(part)) };
  return {
    id: nextId(),
    isNot: false,
    column: node.column ?? "",
    of: node.of ?? "",
    is: node.is ?? "contains",
    values: node.values ?? [],
    other: node.other ?? "",
  };
}

/** Conditions as they travel; "" for none. */
export function writeTree(tree: Group): string {
  const node = writePart(tree);
  if (node === null) return "";
  // The outermost "all" is what the list says piece by piece.
  return JSON.stringify(node.all ? node : { all: [node] });
}

function writePart(part: Group | Test): Condition | null {
  const node = isGroup(part) ? writeGroup(part) : writeTest(part);
  return node !== null && part.isNot ? { not: node } : node;
}

function writeGroup(group: Group): Condition | null {
  const parts = group.parts.map(writePart).filter((part) => part !== null);
  return parts.length === 0 ? null : { [group.joint]: parts };
}

// What was not begun yet asks for nothing; what is half filled in is for the server to say.
function writeTest({ column, of, is, values, other }: Test): Condition | null {
  if (!other && values.length > 0 && values.every((value) => value.trim() === "")) return null;
  return {
    column,
    ...(of && { of }),
    is,
    ...(other
      ? { other }
      : values.length > 0 && {
          values: values.map((value) => value.trim()).filter((value) => value !== "" || is === "between"),
        }),
  };
}

/** The tree with one part put in another's place, or taken out. */
export function replaced(group: Group, id: number, part: Group | Test | null): Group {
  return {
    ...group,
    parts: group.parts.flatMap((own) => {
      if (own.id === id) return part ?? [];
      return isGroup(own) ? replaced(own, id, part) : own;
    }),
  };
}
