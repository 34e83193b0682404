import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { PanelColumn, Schemas } from "../../api/client";
import { tryReadingQuery, type PanelAddress } from "../../api/queries";
import { panelPath, tidyPath } from "../../paths";
import { Failure } from "../../ui/Failure";
import { Field, inputClass } from "../../ui/Field";
import { formatCount } from "../../values/format";
import { ReadingSettings } from "./ReadingSettings";
import { kindOf, readingFor, type Reading } from "./readings";

interface ReadingSetupProps {
  address: PanelAddress;
  column: PanelColumn;
  known: Schemas["SetupColumn"];
  kinds: Schemas["ReadingKind"][];
  error: string | undefined;
  onChange: (reading: Reading | null) => void;
}

/** What a column's stored values mean: the kind, its settings, and what they make of the values that are there. */
export function ReadingSetup({ address, column, known, kinds, error, onChange }: ReadingSetupProps) {
  const kept = column.reading ?? null;
  // What is not right yet is tried here, and saved as soon as it is.
  const [draft, setDraft] = useState<Reading | null>(kept);
  const outcome = useQuery({ ...tryReadingQuery(address, column.name, draft), enabled: draft !== null });
  const offered = known.kinds.flatMap((place) => kinds[place] ?? []);
  const kind = draft && kinds.find((one) => kindOf(one.start) === kindOf(draft));
  const change = (next: Reading | null) => {
    setDraft(next);
    if (next === null || readingFor(next)) onChange(next);
  };
  if (column.lookup || (offered.length === 0 && !kept)) return null;
  return (
    <div className="grid gap-3 border-t border-line pt-3">
      <div className="grid gap-3 sm:grid-cols-2">
        <Field label="Stored values mean" error={error}>
          {(slots) => (
            <select
              {...slots}
              className={inputClass}
              value={kind?.label ?? ""}
              onChange={(event) => {
                change(offered.find(({ label }) => label === event.target.value)?.start ?? null);
              }}
            >
              <option value="">(what they are)</option>
              {offered.map(({ label }) => (
                <option key={label}>{label}</option>
              ))}
            </select>
          )}
        </Field>
        {kind && (
          <ReadingSettings key={kind.label} kind={kind} reading={draft} samples={known.samples} onChange={change} />
        )}
      </div>
      {outcome.isError && <Failure error={outcome.error} onRetry={() => void outcome.refetch()} />}
      {draft && outcome.data && (
        <Outcome address={address} column={column} outcome={outcome.data} isSaved={kept !== null} />
      )}
    </div>
  );
}

interface OutcomeProps {
  address: PanelAddress;
  column: PanelColumn;
  outcome: Schemas["ReadingOutcome"];
  isSaved: boolean;
}

function Outcome({ address, column, outcome, isSaved }: OutcomeProps) {
  if (outcome.problem) return <p className="text-sm font-medium text-danger">{outcome.problem}</p>;
  const isGood = outcome.unfit === 0;
  const says =
    outcome.unfit === null
      ? "How many do not fit was not counted: it takes too long."
      : isGood
        ? "All values fit."
        : `${formatCount(outcome.unfit)} ${outcome.unfit === 1 ? "record does" : "records do"} not fit.`;
  return (
    <div className="text-sm" aria-live="polite">
      <table className="mb-1 border-collapse">
        <caption className="sr-only">Stored values with what they become</caption>
        <tbody>
          {outcome.samples.map((sample) => (
            <tr key={sample.stored}>
              <td className="py-0.5 pr-3 font-mono whitespace-pre">{sample.stored}</td>
              <td className="py-0.5 pr-3 text-faint">becomes</td>
              <td className="py-0.5">
                {sample.sort === "misfit" ? (
                  <span className="text-danger">does not fit</span>
                ) : (
                  (sample.read ?? <span className="text-faint">none</span>)
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        {says}{" "}
        {!isGood && isSaved && (
          <Link
            className="link"
            to={`${panelPath(address.porch, address.panel)}?${new URLSearchParams({ unfit: column.name }).toString()}`}
          >
            Show them
          </Link>
        )}
        {!isGood && isSaved && (
          <>
            {" · "}
            <Link className="link" to={tidyPath(address.porch, address.panel, column.name)}>
              Tidy them
            </Link>
          </>
        )}
      </p>
    </div>
  );
}
