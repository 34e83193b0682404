import { Link } from "react-router";
import type { PanelDefinition, Schemas } from "../../api/client";
import { Field, inputClass } from "../../ui/Field";
import { Tick } from "../../ui/Tick";

interface OrderSetupProps {
  porch: string;
  definition: PanelDefinition;
  setup: Schemas["PanelSetupDto"];
  error: string | undefined;
  onChange: (part: Partial<PanelDefinition>) => void;
}

/** The column that keeps the order which people give to the records by moving them. */
export function OrderSetup({ porch, definition, setup, error, onChange }: OrderSetupProps) {
  const order = definition.order ?? null;
  const sorted = (definition.sort ?? []).length > 0;
  return (
    <fieldset className="grid gap-3 sm:grid-cols-2">
      <legend className="mb-1 text-sm font-medium">The running order, in which records are moved by hand</legend>
      <Field label="Positions are in" error={error}>
        {(slots) => (
          <select
            {...slots}
            className={inputClass}
            value={order?.column ?? ""}
            onChange={(event) => {
              const column = event.target.value;
              onChange({
                order: column === "" ? null : { group: null, isDense: false, newComesFirst: false, ...order, column },
              });
            }}
          >
            <option value="">no column: there is none</option>
            {setup.columns
              .filter((column) => !column.isWrittenByDatabaseOnly && column.isOrderable && !column.isIdentifying)
              .map((column) => (
                <option key={column.name}>{column.name}</option>
              ))}
          </select>
        )}
      </Field>
      {order && (
        <>
          <Field label="Each has an order of its own">
            {(slots) => (
              <select
                {...slots}
                className={inputClass}
                value={order.group ?? ""}
                onChange={(event) => {
                  onChange({ order: { ...order, group: event.target.value || null } });
                }}
              >
                <option value="">all are one order</option>
                {setup.columns
                  .filter((column) => column.isOrderable && column.name !== order.column)
                  .map((column) => (
                    <option key={column.name}>{column.name}</option>
                  ))}
              </select>
            )}
          </Field>
          <Tick
            label="Without gaps: 1, 2, 3, as an old program may expect"
            isOn={order.isDense ?? false}
            onTurn={(isDense) => {
              onChange({ order: { ...order, isDense } });
            }}
          />
          <Tick
            label="A new record comes first"
            isOn={order.newComesFirst ?? false}
            onTurn={(newComesFirst) => {
              onChange({ order: { ...order, newComesFirst } });
            }}
          />
          {sorted && (
            <p className="text-sm text-danger sm:col-span-2">
              The list comes in another order, chosen above, so nobody sees this one without asking for it.{" "}
              <Link to={`/back/porches/${porch}/loose-ends`} className="link">
                Loose ends
              </Link>
            </p>
          )}
        </>
      )}
    </fieldset>
  );
}
