import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { logParams, logQuery, logRecordsQuery, panelQuery, porchQuery, type LogQuestion } from "../../api/queries";
import { Button } from "../../ui/Button";
import { DateInput } from "../../ui/DateInput";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { inputClass } from "../../ui/Field";
import { Loading } from "../../ui/Loading";
import { useSettled } from "../../ui/useSettled";
import { readDay, writeDay } from "../../values/dates";
import { formatCount, formatMoment } from "../../values/format";
import { recordPath } from "../../paths";
import { ChangeBack } from "./ChangeBack";
import { Changes } from "./Changes";
import { actWord, acts } from "./words";
import { Despite } from "./Despite";
import { may } from "../panels/rights";

const names = ["q", "panel", "act", "from", "until"] as const;

/** Who changed which record when, over a whole porch; to be searched and taken along as a file. */
export function LogPage() {
  const { porch = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const question = Object.fromEntries(names.map((name) => [name, params.get(name) ?? ""])) as unknown as LogQuestion;
  const settled = useSettled(question.q, 250);
  const log = useInfiniteQuery(logQuery(porch, { ...question, q: settled }));
  const panels = useQuery(porchQuery(porch));
  const entries = log.data?.pages.flatMap((page) => page.entries) ?? [];
  const ask = (name: (typeof names)[number], value: string) => {
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) next.set(name, value);
        else next.delete(name);
        return next;
      },
      { replace: true },
    );
  };
  const asked = new URLSearchParams(
    Object.entries(logParams(question)).flatMap(([name, value]) => (value ? [[name, value]] : [])),
  ).toString();
  return (
    <div className="grid gap-4">
      <title>Logbook</title>
      <h1 className="text-2xl font-semibold">Logbook</h1>
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-64">
          <input
            type="search"
            aria-label="Search the logbook"
            placeholder="A record’s name or number"
            className={inputClass}
            value={question.q}
            onChange={(event) => {
              ask("q", event.target.value);
            }}
          />
        </div>
        <Choice
          label="In"
          value={question.panel}
          all="All panels"
          options={(panels.data?.panels ?? []).map(({ slug, label }) => [slug, label])}
          onChoose={(value) => {
            ask("panel", value);
          }}
        />
        <Choice
          label="What"
          value={question.act}
          all="anything"
          options={acts.map((act) => [act, actWord(act)])}
          onChoose={(value) => {
            ask("act", value);
          }}
        />
        {(["from", "until"] as const).map((name) => (
          <Day
            key={name}
            label={name === "from" ? "From" : "Until"}
            value={question[name]}
            onDay={(day) => {
              ask(name, day);
            }}
          />
        ))}
        <a className="ml-auto link" href={`/api/porches/${porch}/log.csv${asked && `?${asked}`}`}>
          Export as CSV
        </a>
      </div>
      {log.isPending && <Loading what="the logbook" />}
      {log.isError && <Failure error={log.error} onRetry={() => void log.refetch()} />}
      {log.data && entries.length === 0 && <Empty title={asked ? "No entries match." : "No changes yet."} />}
      {entries.length > 0 && (
        <ul className="border-t border-line">
          {entries.map((entry) => (
            <Entry key={entry.id} porch={porch} entry={entry} panels={panels.data?.panels ?? []} />
          ))}
        </ul>
      )}
      {log.hasNextPage && (
        <div>
          <Button disabled={log.isFetchingNextPage} onClick={() => void log.fetchNextPage()}>
            Show earlier
          </Button>
        </div>
      )}
    </div>
  );
}

interface DayProps {
  label: string;
  /** The day as the address has it; "" for none. */
  value: string;
  onDay: (day: string) => void;
}

/** A day to look from or until; what is no day asks for nothing yet. */
function Day({ label, value, onDay }: DayProps) {
  const [typed, setTyped] = useState(() => writeDay(value));
  return (
    <label className="grid w-40 text-sm">
      {label}
      <DateInput
        kind="date"
        value={typed}
        onType={(text) => {
          setTyped(text);
          const day = text.trim() === "" ? "" : readDay(text);
          if (day !== null && day !== value) onDay(day);
        }}
      />
    </label>
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  all: string;
  options: (readonly [string, string])[];
  onChoose: (value: string) => void;
}

function Choice({ label, value, all, options, onChoose }: ChoiceProps) {
  return (
    <label className="grid text-sm">
      {label}
      <select
        className={inputClass}
        value={value}
        onChange={(event) => {
          onChoose(event.target.value);
        }}
      >
        <option value="">{all}</option>
        {options.map(([name, text]) => (
          <option key={name} value={name}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}

interface EntryProps {
  porch: string;
  entry: Schemas["LogEntry"];
  /** The panels of the porch. */
  panels: readonly Schemas["PanelSummary"][];
}

function Entry({ porch, entry, panels }: EntryProps) {
  const label = panels.find(({ slug }) => slug === entry.panel)?.label ?? entry.panel;
  // The entry's own panel first: there may be several over a table.
  const over = (table: string) =>
    panels.find((one) => one.table === table && one.slug === entry.panel) ?? panels.find((one) => one.table === table);
  const [isOpen, setOpen] = useState(false);
  const records = useQuery({ ...logRecordsQuery(porch, entry.id), enabled: isOpen });
  const panel = useQuery({ ...panelQuery({ porch, panel: entry.panel }), enabled: isOpen });
  return (
    <li className="border-b border-line py-1.5">
      <details
        onToggle={(event) => {
          setOpen(event.currentTarget.open);
        }}
      >
        <summary className="flex cursor-pointer flex-wrap items-baseline gap-x-3">
          <span className="w-40 text-faint tabular-nums">{formatMoment(entry.at)}</span>
          <span className="w-40">{actWord(entry.act)}</span>
          <span className="min-w-0 flex-1">
            <strong className="font-semibold">{entry.title}</strong>
            {entry.count > 1 && ` and ${formatCount(entry.count - 1)} more`}{" "}
            <span className="text-faint">in {label}</span>
          </span>
          <span className="text-sm text-faint">
            {entry.who}
            <Despite checks={entry.despite} />
            {entry.from && ` · ${entry.from}`}
          </span>
        </summary>
        {records.isPending && <Loading what="the entry" />}
        {records.isError && <Failure error={records.error} />}
        <ul className="mt-2 ml-4 grid gap-2">
          {records.data?.map((record, place) => {
            const shownIn = over(record.table);
            return (
              <li key={place}>
                <p>
                  {record.key !== null && shownIn ? (
                    <Link to={recordPath(porch, shownIn.slug, record.key)} className="link">
                      {record.title}
                    </Link>
                  ) : (
                    record.title
                  )}{" "}
                  <span className="text-sm text-faint">
                    {shownIn?.label ?? record.table} · {actWord(record.act)}
                  </span>
                </p>
                <Changes panel={panel.data?.table === record.table ? panel.data : undefined} changes={record.changes} />
              </li>
            );
          })}
        </ul>
        {records.data && records.data.length < entry.count && (
          <p className="ml-4 text-faint">and {formatCount(entry.count - records.data.length)} more</p>
        )}
        {records.data &&
          panel.data?.canEdit &&
          may(panel.data, "changeMany") &&
          (entry.act === "tidied" || entry.act === "changedTogether") && (
            <div className="mt-2">
              <ChangeBack porch={porch} entry={entry} />
            </div>
          )}
      </details>
    </li>
  );
}
