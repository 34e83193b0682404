import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { surveyedColumnsQuery, type PanelAddress } from "../../api/queries";
import { brokenPath } from "../../paths";
import { Button } from "../../ui/Button";
import { isUnsupported, subjectOf, tableOf, type Finding } from "./findings";
import { ProfileFacts } from "./ProfileFacts";
import { meaningWords, shapeWords } from "./surveyWords";
import { formatCount } from "../../values/format";

interface FindingDetailProps {
  sourceId: number;
  finding: Finding;
  /** What records of its table would be called, for some real ones. */
  titles: readonly string[];
  /** The panel over its table; null where there is none. */
  panel: PanelAddress | null;
  onDecide: (finding: Finding, verdict: Schemas["Verdict"] | null, value?: string) => void;
}

/** The evidence for one finding, and the decision about it. */
export function FindingDetail({ sourceId, finding, titles, panel, onDecide }: FindingDetailProps) {
  const { subject, reference } = finding;
  const { schema, name } = subject.table;
  const columns = useQuery({ ...surveyedColumnsQuery(sourceId, schema, name), enabled: subject.columns.length > 0 });
  const seen = columns.data?.filter((column) => subject.columns.includes(column.name)) ?? [];
  return (
    <section
      aria-label="Evidence"
      className="grid gap-3 border-t-4 border-line pt-3 lg:max-h-[calc(100dvh-19rem)] lg:min-h-80 lg:overflow-y-auto"
    >
      <div>
        <h2 className="text-lg font-semibold">{subjectOf(finding)}</h2>
        <p className="text-faint">{tableOf(finding)}</p>
      </div>
      <p>
        {finding.says}
        {!finding.isDeclared && !isUnsupported(finding) && (
          <span className="text-faint"> · {Math.round(finding.confidence * 100)} % sure</span>
        )}
      </p>
      <Decision finding={finding} onDecide={onDecide} />
      {isUnsupported(finding) && (
        <p role="status" className="font-semibold text-danger">
          You decided this. The data no longer supports it.
        </p>
      )}
      <p>{finding.evidence}</p>
      {finding.check && <Exceptions check={finding.check} condition={finding.condition ?? null} panel={panel} />}
      {reference && <ReferenceEvidence reference={reference} />}
      {titles.length > 0 && (
        <p>
          <span className="text-faint">Records here are called, such as: </span>
          {titles.map((title) => `“${title}”`).join(", ")}
        </p>
      )}
      {seen.map((column) => (
        <ProfileFacts key={column.name} column={column} />
      ))}
    </section>
  );
}

interface ExceptionsProps {
  check: Schemas["SurveyedCheck"];
  condition: string | null;
  panel: PanelAddress | null;
}

// The check as it would stand in the panel, and the way to the rows that it would be broken by.
function Exceptions({ check, condition, panel }: ExceptionsProps) {
  if (condition === null)
    return (
      <p className="text-faint">
        {panel
          ? "The panel over it does not have all of these columns."
          : "There is no panel over it yet. Once there is one, what you decide here counts there."}
      </p>
    );
  return (
    <>
      <pre className="overflow-x-auto border border-line bg-paper p-2 text-sm whitespace-pre-wrap">{condition}</pre>
      {check.lacksIndex && (
        <p className="text-faint">
          It takes an index on {check.columns.at(-1)} {check.broken > 0 && "to find the others, and "}to check it in no
          time.
        </p>
      )}
      {panel && check.broken > 0 && !check.lacksIndex && (
        <Link className="link w-fit" to={brokenPath(panel.porch, panel.panel, condition)}>
          Show the {formatCount(check.broken)} {check.broken === 1 ? "record" : "records"} that{" "}
          {check.broken === 1 ? "does" : "do"} not keep to it
        </Link>
      )}
    </>
  );
}

function Decision({ finding, onDecide }: Pick<FindingDetailProps, "finding" | "onDecide">) {
  if (finding.isDeclared) return <p className="text-faint">Declared by the database: nothing to decide.</p>;
  const { sort } = finding.subject;
  const others: Record<string, string> | null =
    sort === "meaning" ? meaningWords : sort === "shape" ? shapeWords : null;
  return (
    <div className="flex flex-wrap items-center gap-2">
      <DecisionButton
        isOn={finding.verdict === "right"}
        letter="Y"
        onPress={() => {
          onDecide(finding, "right");
        }}
      >
        Right
      </DecisionButton>
      <DecisionButton
        isOn={finding.verdict === "wrong"}
        letter="N"
        onPress={() => {
          onDecide(finding, "wrong");
        }}
      >
        Wrong
      </DecisionButton>
      {finding.verdict !== null && (
        <DecisionButton
          isOn={false}
          letter="U"
          onPress={() => {
            onDecide(finding, null);
          }}
        >
          Undecided
        </DecisionButton>
      )}
      {others && (
        <select
          aria-label="It is something else"
          value=""
          className="min-h-8 max-w-56 rounded border border-edge bg-sheet px-2 text-[15px]"
          onChange={(event) => {
            onDecide(finding, "right", event.target.value);
          }}
        >
          <option value="">It is something else …</option>
          {Object.entries(others)
            .filter(([value]) => value !== finding.value && value !== "empty")
            .map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
        </select>
      )}
    </div>
  );
}

interface DecisionButtonProps {
  isOn: boolean;
  letter: string;
  onPress: () => void;
  children: ReactNode;
}

function DecisionButton({ isOn, letter, onPress, children }: DecisionButtonProps) {
  return (
    <Button aria-pressed={isOn} className="aria-pressed:border-accent aria-pressed:bg-accent-tint" onClick={onPress}>
      {children} <kbd className="font-sans text-sm text-faint">{letter}</kbd>
    </Button>
  );
}

function ReferenceEvidence({ reference }: { reference: Schemas["SurveyedReference"] }) {
  const { matched, unmatched, unmatchedExamples, conversion, sql } = reference;
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
      {matched !== null && unmatched !== null && (
        <>
          <dt className="text-faint">Rows with match</dt>
          <dd>{formatCount(matched)}</dd>
          <dt className="text-faint">Rows without</dt>
          <dd>
            {formatCount(unmatched)}
            {unmatchedExamples.length > 0 && ` · such as ${unmatchedExamples.join(", ")}`}
          </dd>
        </>
      )}
      {conversion && (
        <>
          <dt className="text-faint">Compared as</dt>
          <dd>{conversion}</dd>
        </>
      )}
      {sql && (
        <>
          <dt className="text-faint">Counted by</dt>
          <dd className="min-w-0">
            <details>
              <summary className="cursor-pointer text-accent">SQL</summary>
              <pre className="mt-1 overflow-x-auto border border-line bg-sheet p-2 text-xs">{sql}</pre>
            </details>
          </dd>
        </>
      )}
    </dl>
  );
}
