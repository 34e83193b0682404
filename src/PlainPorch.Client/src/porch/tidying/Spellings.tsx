import { useState } from "react";
import type { Column, Panel, Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { inputClass } from "../../ui/Field";
import { formatCount } from "../../values/format";
import { LeaveDialog } from "../records/LeaveDialog";
import { SpellingPart } from "./SpellingPart";
import { TidyDialog } from "./TidyDialog";
import { changesOf, nothing, proposal, recordsIn, sayLikeness, type Part, type Wish } from "./tidying";

interface SpellingsProps {
  address: PanelAddress;
  panel: Panel;
  column: Column;
  found: Schemas["ColumnSpellings"];
  /** Told that values were changed, so that they are read anew. */
  onChanged: (done: Schemas["ChangeOutcomeDone"]) => void;
}

// So many are looked through before one asks for more.
const AT_ONCE = 50;

/** The spellings of a column's values: groups that look alike, the others below, and what is to become of them. */
export function Spellings({ address, panel, column, found, onChanged }: SpellingsProps) {
  const isUnfit = found.column.unfitOnly;
  const [wishes, setWishes] = useState<ReadonlyMap<string, Wish>>(new Map());
  const [shown, setShown] = useState({ groups: AT_ONCE, others: AT_ONCE });
  const [text, setText] = useState("");
  const [isAsking, setAsking] = useState(false);
  const [problems, setProblems] = useState<Readonly<Record<string, string>>>({});

  const groups: Part[] = found.groups.map((group) => {
    const id = group.spellings[0]?.value ?? "";
    return { id, spellings: group.spellings, wish: wishes.get(id) ?? proposal(group, isUnfit) };
  });
  const others: Part[] = found.others.map((spelling) => ({
    id: spelling.value,
    spellings: [spelling],
    wish: wishes.get(spelling.value) ?? nothing,
  }));
  const wanted = text.trim().toLocaleLowerCase();
  const matching = others.filter(({ id }) => id.toLocaleLowerCase().includes(wanted));
  const changes = changesOf(column, [...groups, ...others]);
  const records = formatCount(recordsIn(changes));
  const wish = (id: string, now: Wish) => {
    setWishes((before) => new Map(before).set(id, now));
  };
  const partOf = (part: Part, hint?: string) => (
    <SpellingPart
      key={part.id}
      address={address}
      column={column}
      part={part}
      hint={hint}
      problem={part.spellings.map(({ value }) => problems[value]).find(Boolean)}
      onWish={(now) => {
        wish(part.id, now);
      }}
    />
  );
  if (found.groups.length + found.others.length === 0)
    return <Empty title={isUnfit ? `All values of ${column.label} fit.` : `${column.label} has no values.`} />;
  return (
    <div className="grid gap-5 pb-24">
      <p className="max-w-prose">
        {isUnfit
          ? `These values do not fit what ${column.label} means. Type what each is to be, or empty it.`
          : found.groups.length === 0
            ? `No two spellings of ${column.label} look like one value. Any of them can be given another below.`
            : `${found.groups.length === 1 ? "1 group of spellings looks" : `${formatCount(found.groups.length)} groups of spellings look`} like one value each. Tick those that are, and correct what they become. Nothing is changed before you have seen the numbers.`}
      </p>
      {groups.length > 0 && (
        <section aria-label="Spellings that look alike" className="border-t border-line">
          {groups
            .slice(0, shown.groups)
            .map((part, i) => partOf(part, found.groups[i] && sayLikeness(found.groups[i].by)))}
          <More
            rest={groups.length - shown.groups}
            onMore={() => {
              setShown({ ...shown, groups: shown.groups + AT_ONCE });
            }}
          />
        </section>
      )}
      {others.length > 0 && (
        <section aria-label="Other values" className="grid gap-2">
          {!isUnfit && (
            <div className="flex flex-wrap items-baseline gap-3">
              <h2 className="text-lg font-semibold">Other values</h2>
              <input
                type="search"
                aria-label="Find among the other values"
                placeholder="Find"
                className={`${inputClass} max-w-56`}
                value={text}
                onChange={(event) => {
                  setText(event.target.value);
                }}
              />
              <p className="text-sm text-faint">To join one to another, type what it is to become.</p>
            </div>
          )}
          <div className="border-t border-line">{matching.slice(0, shown.others).map((part) => partOf(part))}</div>
          {matching.length === 0 && <p className="text-faint">None of them has “{text}” in it.</p>}
          <More
            rest={matching.length - shown.others}
            onMore={() => {
              setShown({ ...shown, others: shown.others + AT_ONCE });
            }}
          />
          {found.hasMore && (
            <p className="text-sm text-faint">
              There are more, rarer ones that are not listed. They appear once these are settled, or can be changed in
              the list.
            </p>
          )}
        </section>
      )}
      <div className="sticky bottom-0 z-10 -mx-4 flex flex-wrap items-center gap-3 border-t border-line bg-paper px-4 py-3">
        <Button
          tone="next"
          disabled={changes.length === 0}
          onClick={() => {
            setProblems({});
            setAsking(true);
          }}
        >
          Tidy …
        </Button>
        <p aria-live="polite">
          {changes.length === 0
            ? "Nothing is chosen yet."
            : `${changes.length === 1 ? "1 spelling" : `${formatCount(changes.length)} spellings`} in ${records} ${records === "1" ? "record" : "records"} will change.`}
        </p>
      </div>
      <LeaveDialog unsaved={wishes.size > 0 && changes.length > 0 ? [`what ${column.label} is to become`] : []} />
      {isAsking && (
        <TidyDialog
          address={address}
          panel={panel}
          column={column}
          changes={changes}
          onProblems={setProblems}
          onDone={(done) => {
            setAsking(false);
            setWishes(new Map());
            onChanged(done);
          }}
          onClose={() => {
            setAsking(false);
          }}
        />
      )}
    </div>
  );
}

function More({ rest, onMore }: { rest: number; onMore: () => void }) {
  return rest <= 0 ? null : (
    <div className="py-2">
      <Button onClick={onMore}>Show more ({formatCount(rest)})</Button>
    </div>
  );
}
