import { useMutation, useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { api, unwrap, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import { parcelRecordsQuery, returnPlanQuery, type PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { DialogFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { TriggerNote } from "./TriggerNote";
import { formatCount } from "../../values/format";
import { isLeft, turned, wantedOf, type Left } from "./left";
import { someOf, isRemoved } from "./words";

type Parcel = Schemas["ParcelSummary"];
type Conflict = Schemas["ReturnConflict"];
type Remedy = Schemas["ConflictRemedy"];

interface BringBackDialogProps {
  address: PanelAddress;
  parcel: Parcel;
  onClose: () => void;
}

/** Brings back what was set aside, in whole or in part, and lets a person decide about what has come in its way. */
export function BringBackDialog({ address, parcel, onClose }: BringBackDialogProps) {
  const parts = parcel.parts.filter((part) => isRemoved(part.act));
  const [left, setLeft] = useState<Record<number, Left | undefined>>({});
  const [choices, setChoices] = useState<Record<string, Schemas["ConflictChoice"]>>({});
  const wanted = parts.flatMap((part) => wantedOf(part.place, left[part.place]));
  const isWhole = parts.every((part) => left[part.place] === undefined);
  const plan = useQuery(returnPlanQuery(address, parcel.id, isWhole ? null : wanted, Object.values(choices)));
  const changed = useRecordsChanged();
  const bringBack = useMutation({
    mutationFn: (conflicts: Conflict[]) =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/set-aside/{parcel}/return", {
          params: { path: { ...address, parcel: parcel.id } },
          body: {
            parts: isWhole ? null : wanted,
            choices: conflicts.map((conflict) => choices[nameOf(conflict)] ?? choiceOf(conflict, "leave")),
          },
        }),
      ),
    onError: () => void plan.refetch(),
  });
  // What the database makes of the records shows only when it was tried; nothing was changed by that.
  const undecided = bringBack.error instanceof ApiError && bringBack.error.status === 409 ? bringBack.error.body : null;
  const altered = undecided ? (undecided as Schemas["ReturnProposal"]).conflicts.filter(isAltered) : [];
  const conflicts = [...(plan.data?.conflicts ?? []), ...altered];
  const isAgreed = altered.every((conflict) => choices[nameOf(conflict)]?.remedy === "asTheyCome");
  // What stands behind the dialog changes once its answer was read: the line that opened it may go with that.
  const close = () => {
    if (bringBack.isSuccess) void changed(address.porch);
    onClose();
  };
  const count = plan.data?.parts.filter((part) => isRemoved(part.act)).reduce((sum, part) => sum + part.count, 0) ?? 0;
  return (
    <DialogFrame title={<>Bring back “{parcel.title}”</>} onOpenChange={close}>
      {bringBack.data ? (
        <Done done={bringBack.data} onClose={close} />
      ) : (
        <div className="mt-3 grid gap-3">
          {parts.map((part) => (
            <PartChoice
              key={part.place}
              address={address}
              parcel={parcel.id}
              part={part}
              left={left[part.place]}
              onLeave={(next) => {
                setLeft((before) => ({ ...before, [part.place]: next }));
              }}
            />
          ))}
          {plan.isPending && <Loading what="the conflicts" />}
          {plan.isError && <Failure error={plan.error} onRetry={() => void plan.refetch()} />}
          {plan.data?.problem && <p className="font-medium text-danger">{plan.data.problem}</p>}
          {conflicts.map((conflict) => (
            <ConflictNote
              key={nameOf(conflict)}
              conflict={conflict}
              remedy={choices[nameOf(conflict)]?.remedy ?? "leave"}
              onChoose={(remedy) => {
                setChoices((before) => ({ ...before, [nameOf(conflict)]: choiceOf(conflict, remedy) }));
              }}
            />
          ))}
          {plan.data && <TriggerNote triggers={plan.data.triggers} />}
          {bringBack.isError && !undecided && !plan.isError && <Failure error={bringBack.error} />}
          <div className="flex flex-wrap justify-end gap-2">
            <Dialog.Close asChild>
              <Button>Cancel</Button>
            </Dialog.Close>
            <Button
              tone="next"
              disabled={
                !plan.data ||
                plan.isPlaceholderData ||
                plan.data.problem !== null ||
                bringBack.isPending ||
                !isAgreed ||
                wanted.length === 0
              }
              onClick={() => {
                bringBack.mutate(conflicts);
              }}
            >
              {bringBack.isPending ? "Bringing back …" : `Bring back ${formatCount(count)}`}
            </Button>
          </div>
        </div>
      )}
    </DialogFrame>
  );
}

interface PartChoiceProps {
  address: PanelAddress;
  parcel: number;
  part: Schemas["ParcelPartSummary"];
  left: Left | undefined;
  onLeave: (left: Left | undefined) => void;
}

/** Whether the records of one table come back, all or some. */
function PartChoice({ address, parcel, part, left, onLeave }: PartChoiceProps) {
  const [isOpen, setOpen] = useState(false);
  const records = useQuery({ ...parcelRecordsQuery(address, parcel, part.place), enabled: isOpen });
  const turn = (number: number) => {
    onLeave(turned(left, number, part.count));
  };
  const staying = left === undefined ? 0 : left.isAll ? part.count - left.but.length : left.but.length;
  return (
    <div className="border-b border-line pb-1">
      <div className="flex flex-wrap items-center gap-2">
        <label className="flex min-h-8 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-accent"
            checked={staying < part.count}
            ref={(box) => {
              if (box) box.indeterminate = staying > 0 && staying < part.count;
            }}
            onChange={() => {
              onLeave(left === undefined ? { isAll: true, but: [] } : undefined);
            }}
          />
          <span>
            {someOf(part.count, part.label)}
            {staying > 0 && staying < part.count && `, without ${formatCount(staying)}`}
          </span>
        </label>
        <Button
          className="ml-auto"
          aria-expanded={isOpen}
          onClick={() => {
            setOpen(!isOpen);
          }}
        >
          {isOpen ? "Hide" : "Show them"}
        </Button>
      </div>
      {isOpen && records.isPending && <Loading what={part.label} />}
      {isOpen && records.data && (
        <ul className="my-1 ml-7 max-h-60 overflow-y-auto">
          {records.data.map((record) => (
            <li key={record.number}>
              <label className="flex min-h-7 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-4 accent-accent"
                  checked={!isLeft(left, record.number)}
                  onChange={() => {
                    turn(record.number);
                  }}
                />
                {record.title}
              </label>
            </li>
          ))}
          {part.count > records.data.length && (
            <li className="text-faint">and {formatCount(part.count - records.data.length)} more</li>
          )}
        </ul>
      )}
    </div>
  );
}

interface ConflictNoteProps {
  conflict: Conflict;
  remedy: Remedy;
  onChoose: (remedy: Remedy) => void;
}

function ConflictNote({ conflict, remedy, onChoose }: ConflictNoteProps) {
  const columns = conflict.columnLabels.join(", ");
  const offers: Record<Remedy, string> = {
    leave: conflict.count === 1 ? "leave it set aside" : "leave them set aside",
    empty: `bring ${conflict.count === 1 ? "it" : "them"} back with ${columns} empty`,
    newNumber:
      conflict.count === 1
        ? "bring it back with a new number, and update the records that refer to it"
        : "bring them back with new numbers, and update the records that refer to them",
    asTheyCome:
      conflict.count === 1 ? "bring it back as changed by the database" : "bring them back as changed by the database",
  };
  const says = {
    taken: `Another record now has the same ${columns}.`,
    referredGone: `What ${columns} refers to no longer exists.`,
    gone: "They are no longer in their table.",
    changed: "Somebody has changed them since, so they stay as they are now.",
    altered: `A trigger or rule in the database changes ${columns || "their values"} when they are brought back. Nothing has been changed yet.`,
  }[conflict.kind];
  return (
    <fieldset className="border-l-4 border-danger bg-danger-tint px-3 py-2">
      <legend className="sr-only">{says}</legend>
      <p>
        <strong className="font-semibold">{someOf(conflict.count, conflict.label)}</strong>: {says}
      </p>
      <p className="text-sm">{conflict.titles.join(" · ")}</p>
      {conflict.remedies.length > 0 ? (
        <div className="mt-1 grid gap-1">
          {conflict.remedies.map((offered) => (
            <label key={offered} className="flex min-h-7 items-center gap-2">
              <input
                type="radio"
                className="size-4 shrink-0 accent-accent"
                checked={remedy === offered}
                onChange={() => {
                  onChoose(offered);
                }}
              />
              {offers[offered]}
            </label>
          ))}
        </div>
      ) : (
        conflict.kind !== "changed" && (
          <p className="mt-1 text-sm">They stay set aside and can be brought back once the conflict is resolved.</p>
        )
      )}
    </fieldset>
  );
}

function Done({ done, onClose }: { done: Schemas["ReturnOutcomeDone"]; onClose: () => void }) {
  return (
    <div className="mt-3 grid gap-4">
      <div role="status">
        <p>
          {formatCount(done.count)} {done.count === 1 ? "record is" : "records are"} back
          {done.renumbered.length === 0 && (done.count === 1 ? " as it was" : " as they were")}.
          {done.staying > 0 && ` ${formatCount(done.staying)} ${done.staying === 1 ? "stays" : "stay"} set aside.`}
        </p>
        {done.renumbered.length > 0 && (
          <ul className="mt-2">
            {done.renumbered.map((record) => (
              <li key={`${record.column} ${record.before}`}>
                <strong className="font-semibold">{record.title}</strong>: {record.columnLabel} was {record.before}, and
                is {record.after} now.
              </li>
            ))}
          </ul>
        )}
      </div>
      <div className="flex justify-end">
        <Button tone="next" autoFocus onClick={onClose}>
          Close
        </Button>
      </div>
    </div>
  );
}

function isAltered(conflict: Conflict): boolean {
  return conflict.kind === "altered";
}

function nameOf(conflict: Conflict): string {
  return `${conflict.place} ${conflict.kind} ${conflict.columns.join(",")}`;
}

function choiceOf(conflict: Conflict, remedy: Remedy): Schemas["ConflictChoice"] {
  return { place: conflict.place, kind: conflict.kind, columns: conflict.columns, remedy };
}
