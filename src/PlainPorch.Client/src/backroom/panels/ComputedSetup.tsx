import { useState } from "react";
import type { PanelColumn, PanelDefinition, Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Field, inputClass } from "../../ui/Field";
import { computedName, labelOf } from "./computedName";
import { DraftField } from "./DraftField";
import { RuleField } from "./RuleField";
import { isKeptHere, useKeptHere } from "./useKeptHere";

const newPlace = ({ porch, panel }: PanelAddress) => `plain-porch new computed column ${porch}/${panel}`;

interface ComputedDetailProps {
  address: PanelAddress;
  column: PanelColumn;
  errors: Record<string, string>;
  onChange: (part: Partial<PanelColumn>) => void;
  onRemove: () => void;
}

/** What a computed column is computed of, and where it stands in the form. */
export function ComputedDetail({ address, column, errors, onChange, onRemove }: ComputedDetailProps) {
  const part = `columns.${column.name}.`;
  const heading = (
    <div className="grid gap-3 sm:grid-cols-2">
      <DraftField
        key={column.name}
        label="Heading in the form"
        value={column.section ?? ""}
        error={errors[`${part}section`]}
        onKeep={(section) => {
          onChange({ section });
        }}
      />
    </div>
  );
  return (
    <section aria-label={`About ${column.name}`} className="grid gap-3 border border-line bg-sheet p-3">
      <h2 className="text-base font-semibold">{column.name}</h2>
      {column.byCode ? (
        <>
          <p className="text-faint">
            Code of your own computes it. It is shown and exported; the database knows nothing of it, so that it can be
            neither searched nor sorted by.
          </p>
          {heading}
        </>
      ) : (
        <RuleField
          key={`${column.name} ${column.expression ?? ""}`}
          address={address}
          label="It is computed as"
          isCondition={false}
          value={column.expression ?? ""}
          error={errors[`${part}expression`] ?? errors[`${part}name`]}
          onKeep={(expression) => {
            onChange({ expression });
          }}
        >
          {heading}
        </RuleField>
      )}
      <Button className="w-fit" onClick={onRemove}>
        Remove this column
      </Button>
    </section>
  );
}

interface NewComputedProps {
  address: PanelAddress;
  definition: PanelDefinition;
  /** The columns that code of one's own can compute here. */
  byCode: Schemas["CodeColumn"][];
  onAdd: (column: PanelColumn) => void;
}

/** A way to a further column that is computed. */
export function NewComputed({ address, definition, byCode, onAdd }: NewComputedProps) {
  const [isAdding, setAdding] = useState(() => isKeptHere(newPlace(address)));
  if (!isAdding)
    return (
      <div className="flex flex-wrap gap-3">
        <Button
          onClick={() => {
            setAdding(true);
          }}
        >
          Add a computed column
        </Button>
        {byCode
          .filter(({ name }) => !definition.columns.some((column) => column.name === name))
          .map(({ name, code }) => (
            <Button
              key={name}
              title={`Computed by ${code}`}
              onClick={() => {
                onAdd({ name, label: labelOf(name), byCode: true, inList: true, inForm: true });
              }}
            >
              Add {name}, computed by code
            </Button>
          ))}
      </div>
    );
  return (
    <Begun
      address={address}
      onEnd={(begun) => {
        setAdding(false);
        if (begun)
          onAdd({
            ...begun,
            name: computedName(
              begun.label,
              definition.columns.map(({ name }) => name),
            ),
            inList: true,
            inForm: true,
          });
      }}
    />
  );
}

interface BegunColumn {
  label: string;
  expression: string;
}

function Begun({ address, onEnd }: { address: PanelAddress; onEnd: (begun: BegunColumn | null) => void }) {
  const { value, change, drop } = useKeptHere<BegunColumn>(newPlace(address), { label: "", expression: "" });
  const end = (begun: BegunColumn | null) => {
    drop();
    onEnd(begun);
  };
  return (
    <fieldset className="grid gap-3 border-l-4 border-accent bg-sheet p-3">
      <legend className="sr-only">A new computed column</legend>
      <Field label="Label">
        {(slots) => (
          <input
            {...slots}
            autoFocus
            className={inputClass}
            maxLength={200}
            value={value.label}
            onChange={({ target }) => {
              change({ label: target.value });
            }}
          />
        )}
      </Field>
      <RuleField
        address={address}
        label="It is computed as"
        isCondition={false}
        value={value.expression}
        error={undefined}
        onKeep={(expression) => {
          change({ expression });
        }}
        onType={(expression) => {
          change({ expression });
        }}
      >
        <div className="flex gap-3">
          <Button
            tone="next"
            disabled={value.label.trim() === "" || value.expression.trim() === ""}
            onClick={() => {
              end({ label: value.label.trim(), expression: value.expression });
            }}
          >
            Add it
          </Button>
          <Button
            onClick={() => {
              end(null);
            }}
          >
            Cancel
          </Button>
        </div>
      </RuleField>
    </fieldset>
  );
}
