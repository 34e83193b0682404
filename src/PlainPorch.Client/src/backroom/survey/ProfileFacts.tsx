import type { Schemas } from "../../api/client";
import { formatCount } from "../../values/format";

const percent = new Intl.NumberFormat(undefined, { style: "percent", maximumFractionDigits: 1 });

/** What a column's values are like. */
export function ProfileFacts({ column }: { column: Schemas["SurveyedColumn"] }) {
  const { profile } = column;
  const facts: [string, string][] = [
    ["Label", column.label],
    ["Looked at", `${formatCount(profile.seen)} rows${profile.isEstimate ? ", a sample" : ", all there are"}`],
    ["Empty", percent.format(profile.emptyShare)],
    ["Different values", `${profile.isEstimate ? "about " : ""}${formatCount(profile.distinct)}`],
  ];
  if (profile.least != null && profile.greatest != null)
    facts.push([profile.isEstimate ? "Of these, from … to" : "From … to", `${profile.least} … ${profile.greatest}`]);
  if (profile.averageLength != null)
    facts.push([
      "Characters",
      `${profile.shortestLength ?? 0} to ${profile.longestLength ?? 0}, ${profile.averageLength} on average`,
    ]);
  if (profile.commonest && profile.commonest.length > 0) facts.push(["Commonest", listOf(profile.commonest)]);
  else if (profile.samples && profile.samples.length > 0) facts.push(["Such as", profile.samples.join(", ")]);
  if (profile.shapes && profile.shapes.length > 0) facts.push(["Shapes", listOf(profile.shapes)]);
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
      {column.kind === "sensitive" && (
        <p className="mt-1 text-sm text-faint">Its values are sensitive: none is kept or shown, only their shapes.</p>
      )}
    </section>
  );
}

function listOf(values: Schemas["ValueCount"][]): string {
  return values.map(({ value, count }) => `${value} (${formatCount(count)})`).join(", ");
}
