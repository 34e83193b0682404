import type { Schemas } from "../../api/client";

export type Finding = Schemas["Finding"];

export interface FindingFilter {
  text: string;
  sort: Schemas["FindingSort"] | "";
  /** "schema.name", or "" for all. */
  table: string;
  order: "surest" | "doubtful" | "table";
  isOpenOnly: boolean;
  /** What they ask of a developer; "" for all. */
  part: Schemas["FindingPart"] | "";
  trouble: Schemas["FindingTrouble"] | "";
}

export const everything: FindingFilter = {
  text: "",
  sort: "",
  table: "",
  order: "surest",
  isOpenOnly: false,
  part: "",
  trouble: "",
};

/** What a developer should look at first: what the draft leans on and is unsure, then what is broken. */
export function firstPart(findings: Finding[]): FindingFilter["part"] {
  return (
    (["unsure", "broken", "proposed", "found"] as const).find((part) => findings.some((one) => one.part === part)) ?? ""
  );
}

/** How many findings there are of each part, and of each trouble. */
export function countsOf(findings: Finding[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { part, trouble } of findings) {
    for (const name of [part, trouble]) if (name) counts.set(name, (counts.get(name) ?? 0) + 1);
  }
  return counts;
}

// From here on a finding is taken for true.
const threshold = 0.5;

export function idOf({ subject }: Finding): string {
  return [subject.sort, subject.table.schema, subject.table.name, ...subject.columns].join("\u001f");
}

export function tableOf({ subject }: Finding): string {
  return `${subject.table.schema}.${subject.table.name}`;
}

/** What a finding is about, as a person reads it. */
export function subjectOf({ subject }: Finding): string {
  return subject.columns.length === 0 ||
    subject.sort === "key" ||
    subject.sort === "overlap" ||
    subject.sort === "check"
    ? subject.table.name
    : `${subject.table.name}.${subject.columns.join(" + ")}`;
}

/** Whether a decision has been overtaken by what the data show now. */
export function isUnsupported(finding: Finding): boolean {
  return finding.support !== "found";
}

/** The findings that a filter leaves, in its order; those whose decision the data no longer support come first. */
export function chosen(findings: Finding[], filter: FindingFilter): Finding[] {
  const words = filter.text.toLowerCase().split(/\s+/);
  const kept = findings.filter((finding) => {
    if (filter.part && finding.part !== filter.part) return false;
    if (filter.trouble && finding.trouble !== filter.trouble) return false;
    if (filter.sort && finding.subject.sort !== filter.sort) return false;
    if (filter.table && tableOf(finding) !== filter.table) return false;
    if (filter.isOpenOnly && (finding.isDeclared || (finding.verdict !== null && !isUnsupported(finding))))
      return false;
    const haystack = `${tableOf(finding)} ${subjectOf(finding)} ${finding.says} ${finding.evidence}`.toLowerCase();
    return words.every((word) => haystack.includes(word));
  });
  const doubt = (finding: Finding) => Math.abs(finding.confidence - threshold);
  const rank = (finding: Finding) => (isUnsupported(finding) ? 0 : finding.isDeclared ? 2 : 1);
  const inTable = new Intl.Collator();
  return kept.toSorted(
    (a, b) =>
      rank(a) - rank(b) ||
      (filter.order === "surest"
        ? b.confidence - a.confidence
        : filter.order === "doubtful"
          ? doubt(a) - doubt(b)
          : inTable.compare(`${tableOf(a)} ${subjectOf(a)}`, `${tableOf(b)} ${subjectOf(b)}`)),
  );
}
