import { formatCount } from "../../values/format";
import { countsOf, type Finding, type FindingFilter } from "./findings";

const parts: { part: FindingFilter["part"]; label: string; says: string }[] = [
  {
    part: "unsure",
    label: "To check",
    says: "The draft leans on these, and none of them is sure. Y or N settles one.",
  },
  { part: "broken", label: "Broken", says: "What the data or the schema do not hold to." },
  {
    part: "proposed",
    label: "Proposed checks",
    says: "Nearly all rows keep to these. Y makes one a check of the panel; records that break it stay, until somebody changes them.",
  },
  { part: "found", label: "Found", says: "What is sure, what you decided, and what nothing leans on." },
  { part: "declared", label: "Declared", says: "What the schema says anyway: nothing to decide." },
  { part: "", label: "All", says: "Everything that was found." },
];

const troubles: { trouble: NonNullable<Finding["trouble"]>; one: string; many: string }[] = [
  {
    trouble: "unsupported",
    one: "decision that the data no longer support",
    many: "decisions that the data no longer support",
  },
  { trouble: "orphans", one: "reference with rows that find nothing", many: "references with rows that find nothing" },
  { trouble: "overlaps", one: "pair of dates that overlap", many: "pairs of dates that overlap" },
  { trouble: "twins", one: "table with rows that are the same", many: "tables with rows that are the same" },
  { trouble: "noKey", one: "key that nobody declared", many: "keys that nobody declared" },
];

interface FindingPartsProps {
  findings: Finding[];
  filter: FindingFilter;
  onChange: (filter: FindingFilter) => void;
}

/** The findings by what they ask of a developer, with how many there are of each. */
export function FindingParts({ findings, filter, onChange }: FindingPartsProps) {
  const counts = countsOf(findings);
  return (
    <div className="grid gap-1">
      <div role="group" aria-label="What to look at" className="flex flex-wrap gap-2">
        {parts.map(({ part, label }) => (
          <button
            key={part}
            type="button"
            aria-pressed={filter.part === part}
            className="min-h-9 rounded border border-edge bg-sheet px-3 aria-pressed:border-accent aria-pressed:bg-accent-tint aria-pressed:font-semibold"
            onClick={() => {
              onChange({ ...filter, part, trouble: "" });
            }}
          >
            {label}{" "}
            <span className="font-normal text-faint tabular-nums">
              {formatCount(part === "" ? findings.length : (counts.get(part) ?? 0))}
            </span>
          </button>
        ))}
      </div>
      <p className="text-faint">
        {parts.find(({ part }) => part === filter.part)?.says}{" "}
        {filter.part === "broken" &&
          troubles
            .filter(({ trouble }) => counts.has(trouble))
            .map(({ trouble, one, many }, at) => (
              <span key={trouble}>
                {at > 0 && " · "}
                <button
                  type="button"
                  aria-pressed={filter.trouble === trouble}
                  className="link aria-pressed:font-semibold"
                  onClick={() => {
                    onChange({ ...filter, trouble: filter.trouble === trouble ? "" : trouble });
                  }}
                >
                  {formatCount(counts.get(trouble) ?? 0)} {counts.get(trouble) === 1 ? one : many}
                </button>
              </span>
            ))}
      </p>
    </div>
  );
}
