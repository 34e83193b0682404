import { useId, useRef } from "react";
import type { Column } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { formatCount } from "../../values/format";
import { FieldInput } from "../records/FieldInput";
import type { Unsettled } from "../records/useLookup";
import { problemOf, seeable, tidyKind, type Part, type Spelling, type Wish } from "./tidying";

interface SpellingPartProps {
  address: PanelAddress;
  column: Column;
  part: Part;
  /** Why they stand together. */
  hint: string | undefined;
  /** What the server said against it. */
  problem: string | undefined;
  onWish: (wish: Wish) => void;
}

/** Spellings that become one value, or one spelling that becomes another, with the value that they become. */
export function SpellingPart({ address, column, part, hint, problem, onWish }: SpellingPartProps) {
  const id = useId();
  const unsettled = useRef<Unsettled>(new Map());
  const { spellings, wish } = part;
  const isGroup = spellings.length > 1;
  const wrong = problem ?? problemOf(column, wish) ?? undefined;
  const typed = (value: string) => ({ ...wish, typed: value, empties: false, isOn: value !== "" || wish.isOn });
  return (
    <div
      role="group"
      aria-label={`Values like ${seeable(spellings[0]?.value ?? "")}`}
      className="grid gap-x-6 gap-y-2 border-b border-line py-2.5 sm:grid-cols-[minmax(0,1fr)_minmax(0,22rem)]"
    >
      <div className="grid content-start gap-0.5">
        {isGroup && (
          <label className="flex min-h-8 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-accent"
              checked={wish.isOn}
              onChange={(event) => {
                onWish({ ...wish, isOn: event.target.checked });
              }}
            />
            <span className="text-sm text-faint">{hint}</span>
          </label>
        )}
        <ul className={isGroup ? "grid gap-0.5 pl-7" : "grid gap-0.5"}>
          {spellings.map((spelling) => (
            <li key={spelling.value} className="flex min-h-7 items-center gap-2">
              <Name
                spelling={spelling}
                isGroup={isGroup}
                wish={wish}
                onUse={() => {
                  onWish({ ...typed(spelling.value.trim()), isOn: true });
                }}
                onLeave={(left) => {
                  onWish({ ...wish, left });
                }}
              />
            </li>
          ))}
        </ul>
      </div>
      <div className="grid content-start gap-1">
        <div className="flex items-center gap-2">
          <label htmlFor={id} className="text-sm text-faint">
            becomes
          </label>
          <FieldInput
            id={id}
            aria-invalid={wrong ? true : undefined}
            aria-describedby={wrong ? `${id}-error` : undefined}
            address={address}
            column={column}
            kind={tidyKind(column)}
            typed={wish.empties ? "" : wish.typed}
            present={null}
            known={undefined}
            isNew={false}
            unsettled={unsettled}
            onType={(value) => {
              onWish(typed(value));
            }}
          />
        </div>
        {wrong && (
          <p id={`${id}-error`} role="alert" className="text-sm font-medium text-danger">
            {wrong}
          </p>
        )}
        {column.isNullable && !column.mustBeGiven && (
          <label className="flex min-h-6 items-center gap-2 text-sm text-faint">
            <input
              type="checkbox"
              className="size-4 accent-accent"
              checked={wish.empties}
              onChange={(event) => {
                onWish({ ...wish, empties: event.target.checked, isOn: event.target.checked || wish.isOn });
              }}
            />
            or empty
          </label>
        )}
      </div>
    </div>
  );
}

interface NameProps {
  spelling: Spelling;
  isGroup: boolean;
  wish: Wish;
  onUse: () => void;
  onLeave: (left: string[]) => void;
}

function Name({ spelling, isGroup, wish, onUse, onLeave }: NameProps) {
  const { value, count } = spelling;
  const shown = seeable(value);
  const isIn = !wish.left.includes(value);
  return (
    <>
      {isGroup && (
        <input
          type="checkbox"
          className="size-4 accent-accent"
          aria-label={`${shown} is one of them`}
          checked={isIn}
          onChange={() => {
            onLeave(isIn ? [...wish.left, value] : wish.left.filter((one) => one !== value));
          }}
        />
      )}
      {isGroup ? (
        <button
          type="button"
          title="Use this spelling"
          className={`min-h-6 text-left break-words link ${isIn ? "" : "text-faint line-through"}`}
          onClick={onUse}
        >
          {shown}
        </button>
      ) : (
        <span className="break-words">{shown}</span>
      )}
      <span className="text-sm text-faint tabular-nums">{formatCount(count)}</span>
    </>
  );
}
