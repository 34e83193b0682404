import { useState } from "react";
import type { PanelDefinition, Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Field, inputClass } from "../../ui/Field";
import { Tick } from "../../ui/Tick";
import { DraftField } from "./DraftField";
import { ProposedChecks, useProposedChecks } from "./ProposedChecks";
import { RuleField } from "./RuleField";
import { SetupPart } from "./SetupPart";
import { isKeptHere, useKeptHere } from "./useKeptHere";

type Check = Schemas["RecordCheck"];

interface CheckSetupProps {
  address: PanelAddress;
  definition: PanelDefinition;
  errors: Record<string, string>;
  onChange: (part: Partial<PanelDefinition>) => void;
}

type NewCheckText = Omit<Check, "name">;

const emptyCheck: NewCheckText = { condition: "", message: "", column: null, isWarning: false };

const NAME_LENGTH = 90;

const newPlace = ({ porch, panel }: PanelAddress) => `plain-porch new check ${porch}/${panel}`;

/** What must hold for the panel's records, whoever writes them. */
export function CheckSetup({ address, definition, errors, onChange }: CheckSetupProps) {
  const checks = definition.checks ?? [];
  const [isAdding, setAdding] = useState(() => isKeptHere(newPlace(address)));
  const proposed = useProposedChecks(address, checks);
  const put = (place: number, part: Partial<Check>) => {
    onChange({ checks: checks.map((check, at) => (at === place ? { ...check, ...part } : check)) });
  };
  return (
    <SetupPart
      title={
        <>
          Checks{" "}
          <span className="font-normal text-faint">
            {checks.length === 0 ? "none" : checks.length}
            {proposed.length > 0 && `, ${proposed.length} proposed by the data`}
          </span>
        </>
      }
    >
      {checks.map((check, place) => (
        <fieldset key={check.name} className="grid gap-3 border-b border-line pb-4">
          <legend className="sr-only">{check.name}</legend>
          <RuleField
            address={address}
            label="What holds"
            value={check.condition}
            error={errors[`checks.${place}.condition`]}
            onKeep={(condition) => {
              put(place, { condition });
            }}
          >
            <DraftField
              label="What is said where it does not"
              value={check.message}
              error={errors[`checks.${place}.message`]}
              onKeep={(message) => {
                put(place, { message });
              }}
            />
            <Choices
              definition={definition}
              check={check}
              onChange={(part) => {
                put(place, part);
              }}
            />
          </RuleField>
          <Button
            className="w-fit"
            onClick={() => {
              onChange({ checks: checks.filter((_, at) => at !== place) });
            }}
          >
            Remove this check
          </Button>
        </fieldset>
      ))}
      {proposed.length > 0 && (
        <ProposedChecks
          address={address}
          proposed={proposed}
          onTake={(check) => {
            onChange({ checks: [...checks, check] });
          }}
        />
      )}
      {isAdding ? (
        <NewCheck
          address={address}
          definition={definition}
          onCancel={() => {
            setAdding(false);
          }}
          onAdd={(check) => {
            onChange({ checks: [...checks, check] });
            setAdding(false);
          }}
        />
      ) : (
        <Button
          className="w-fit"
          onClick={() => {
            setAdding(true);
          }}
        >
          Add a check
        </Button>
      )}
    </SetupPart>
  );
}

interface ChoicesProps {
  definition: PanelDefinition;
  check: Pick<Check, "column" | "isWarning">;
  onChange: (part: Partial<Check>) => void;
}

function Choices({ definition, check, onChange }: ChoicesProps) {
  return (
    <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
      <Field label="Said at">
        {(slots) => (
          <select
            {...slots}
            className={inputClass}
            value={check.column ?? ""}
            onChange={({ target }) => {
              onChange({ column: target.value || null });
            }}
          >
            <option value="">(the record)</option>
            {definition.columns.map(({ name, label }) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </select>
        )}
      </Field>
      <Tick
        label="A warning: it can be saved anyway"
        isOn={check.isWarning ?? false}
        onTurn={(isWarning) => {
          onChange({ isWarning });
        }}
      />
    </div>
  );
}

interface NewCheckProps {
  address: PanelAddress;
  definition: PanelDefinition;
  onAdd: (check: Check) => void;
  onCancel: () => void;
}

function NewCheck({ address, definition, onAdd, onCancel }: NewCheckProps) {
  const { value: check, change, drop } = useKeptHere<NewCheckText>(newPlace(address), emptyCheck);
  const end = (then: () => void) => {
    drop();
    then();
  };
  return (
    <fieldset className="grid gap-3 border-l-4 border-accent pl-3">
      <legend className="text-sm font-medium">A new check</legend>
      <RuleField
        address={address}
        label="What holds"
        value={check.condition}
        error={undefined}
        onKeep={(condition) => {
          change({ condition });
        }}
        onType={(condition) => {
          change({ condition });
        }}
      >
        <Field label="What is said where it does not">
          {(slots) => (
            <input
              {...slots}
              className={inputClass}
              maxLength={200}
              value={check.message}
              onChange={({ target }) => {
                change({ message: target.value });
              }}
            />
          )}
        </Field>
        <Choices definition={definition} check={check} onChange={change} />
      </RuleField>
      <div className="flex gap-3">
        <Button
          tone="next"
          disabled={check.condition.trim() === "" || check.message.trim() === ""}
          onClick={() => {
            end(() => {
              onAdd({ ...check, name: nameFor(check.message, definition.checks ?? []) });
            });
          }}
        >
          Add it
        </Button>
        <Button
          onClick={() => {
            end(onCancel);
          }}
        >
          Cancel
        </Button>
      </div>
    </fieldset>
  );
}

// By its name somebody saves in spite of it, and the logbook tells it: it begins with what is said.
function nameFor(message: string, others: Check[]): string {
  const name = message.trim().slice(0, NAME_LENGTH);
  for (let number = 1; ; number++) {
    const tried = number === 1 ? name : `${name} (${number})`;
    if (!others.some((other) => other.name === tried)) return tried;
  }
}
