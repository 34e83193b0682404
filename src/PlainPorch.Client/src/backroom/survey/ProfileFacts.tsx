import type { Schemas } from "../../api/client";
import { formatCount } from "../../values/format";
import { writeNumber } from "../../values/numbers";

function percent(share: number): string {
  return `${writeNumber(String(Number((share * 100).toFixed(1))))} %`;
}

/** What a column's values are like. */
export function ProfileFacts({ column }: { column: Schemas["SurveyedColumn"] }) {
  const { profile } = column;
  const facts: [string, string][] = [
    ["Label", column.label],
    ["Examined", `${formatCount(profile.seen)} rows${profile.isEstimate ? ", a sample" : ", all of them"}`],
    ["Empty", percent(profile.emptyShare)],
    ["Distinct values", `${profile.isEstimate ? "about " : ""}${formatCount(profile.distinct)}`],
  ];
  if (profile.least != null && profile.greatest != null)
    facts.push([profile.isEstimate ? "Of these, from … to" : "From … to", `${profile.least} … ${profile.greatest}`]);
  if (profile.averageLength != null)
    facts.push([
      "Characters",
      `${profile.shortestLength ?? 0} to ${profile.longestLength ?? 0}, ${profile.averageLength} on average`,
    ]);
  if (profile.commonest && profile.commonest.length > 0) facts.push(["Most common", listOf(profile.commonest)]);
  else if (profile.samples && profile.samples.length > 0) facts.push(["Such as", profile.samples.join(", ")]);
  if (profile.shapes && profile.shapes.length > 0) facts.push(["Patterns", listOf(profile.shapes)]);
  return (
    <section aria-label={`Values of ${column.name}`}>
      <h3 className="text-sm font-semibold text-faint">Values of {column.name}</h3>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5 text-[15px]">
        {facts.map(([name, fact]) => (
          <div key={name} className="contents">
            <dt className="text-faint">{name}</dt>
            <dd className="min-w-0 break-words">{fact}</dd>
          </div>
        ))}
      </dl>
      {(column.kind === "sensitive" || column.kind === "secret") && (
        <p className="mt-1 text-sm text-faint">
          Its values are {column.kind}: only their patterns are stored and shown, never the values.
        </p>
      )}
    </section>
  );
}

function listOf(values: Schemas["ValueCount"][]): string {
  return values.map(({ value, count }) => `${value} (${formatCount(count)})`).join(", ");
}
