import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { brokenPath, recordPath } from "../../paths";
import { later } from "../../ui/later";
import { useSettled } from "../../ui/useSettled";
import { formatCount } from "../../values/format";
import type { RuleEditorProps } from "./RuleEditor";
import { RuleCost } from "./RuleCost";
import { ruleTrialQuery, ruleWordsQuery } from "./ruleQueries";

const editor = later<RuleEditorProps>("ruleEditor", async () => (await import("./RuleEditor")).RuleEditor);

const PAUSE_MS = 400;

interface RuleFieldProps {
  address: PanelAddress;
  label: string;
  value: string;
  /** What the server said of the one that was to be saved. */
  error: string | undefined;
  /** Takes the text when the field is left. */
  onKeep: (text: string) => void;
  /** Takes the text as it is typed. */
  onType?: (text: string) => void;
  /** Whether it is to hold for the records that there are. */
  isCondition?: boolean;
  /** What is filled in with it: one comes to it before what stands with the trial. */
  children?: ReactNode;
}

const types: Record<NonNullable<Schemas["RuleTrial"]["type"]>, string> = {
  nothing: "nothing",
  number: "a number",
  text: "a text",
  date: "a date",
  moment: "a date with a time",
  time: "a time of day",
  truth: "true or false",
  other: "something that is there or not",
};

/** A field for an expression, with what it comes to on the records that there are. */
export function RuleField({
  address,
  label,
  value,
  error,
  isCondition = true,
  onKeep,
  onType,
  children,
}: RuleFieldProps) {
  const words = useQuery(ruleWordsQuery(address));
  const [text, setText] = useState(value);
  const settled = useSettled(text, PAUSE_MS);
  const trial = useQuery({
    ...ruleTrialQuery(address, settled),
    enabled: settled.trim() !== "",
    placeholderData: (before) => before,
  });
  const isCurrent = settled === text && !trial.isPlaceholderData && settled.trim() !== "";
  const problem = isCurrent ? (trial.data?.problem ?? null) : null;
  return (
    <div className="grid gap-2">
      <p className="text-sm font-medium">{label}</p>
      <editor.Part
        label={label}
        value={value}
        words={words.data}
        problem={problem}
        onType={(typed) => {
          setText(typed);
          onType?.(typed);
        }}
        onLeave={() => {
          if (text !== value) onKeep(text);
        }}
      />
      {problem ? (
        <p className="text-sm text-danger" role="alert">
          {problem.message}
        </p>
      ) : (
        error && text === value && <p className="text-sm text-danger">{error}</p>
      )}
      {children}
      {!isCurrent && text.trim() !== "" && <p className="text-sm text-faint">Trying it on the records …</p>}
      {isCurrent && trial.isError && <p className="text-sm text-danger">{trial.error.message}</p>}
      {isCurrent && trial.data && !problem && (
        <Trial address={address} text={settled} trial={trial.data} isCondition={isCondition} />
      )}
    </div>
  );
}

interface TrialProps {
  address: PanelAddress;
  text: string;
  trial: Schemas["RuleTrial"];
  isCondition: boolean;
}

function Trial({ address, text, trial, isCondition }: TrialProps) {
  const { type, failure, examples } = trial;
  const broken = isCondition ? trial.broken : null;
  return (
    <div className="grid gap-1 text-sm" aria-live="polite">
      <p className="text-faint">
        It comes to {type ? types[type] : "nothing"}.{" "}
        {broken &&
          (broken.value === 0
            ? "All records that there are keep to it."
            : `${broken.certainty === "exact" ? formatCount(broken.value) : `More than ${formatCount(broken.value)}`} of the records that there are ${broken.value === 1 ? "does" : "do"} not.`)}{" "}
        {broken && broken.value > 0 && (
          <Link className="link" to={brokenPath(address.porch, address.panel, text)}>
            Show {broken.value === 1 ? "it" : "them"}
          </Link>
        )}
      </p>
      {failure && <p className="text-danger">For some records: {failure}</p>}
      {examples.length > 0 && (
        <table className="w-fit max-w-full">
          <tbody>
            {examples.map((example) => (
              <tr key={example.key ?? example.title}>
                <th scope="row" className="max-w-64 truncate pr-4 text-left font-normal">
                  {example.key === null ? (
                    example.title
                  ) : (
                    <Link className="link" to={recordPath(address.porch, address.panel, example.key)}>
                      {example.title}
                    </Link>
                  )}
                </th>
                <td className={example.isBroken && isCondition ? "text-danger" : ""}>{example.value ?? "(null)"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {(trial.indexes ?? []).map(({ table, sql }) => (
        <div key={sql}>
          <p>For each record all of {table} is read. An index would find what is needed:</p>
          <pre className="overflow-x-auto border border-line bg-paper p-2 text-xs">{sql}</pre>
        </div>
      ))}
      {type !== "nothing" && type !== "other" && failure === null && (
        <RuleCost address={address} text={text} type={type} />
      )}
      <details>
        <summary className="w-fit cursor-pointer text-faint">The SQL</summary>
        <pre className="overflow-x-auto border border-line bg-paper p-2 text-xs">{trial.sql}</pre>
      </details>
    </div>
  );
}
