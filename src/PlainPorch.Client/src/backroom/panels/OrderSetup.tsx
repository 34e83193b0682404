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
      <legend className="mb-1 text-sm font-medium">Running order (records are moved by hand)</legend>
      <Field label="Position column" error={error}>
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
            <option value="">(no running order)</option>
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
          <Field label="A separate order for each">
            {(slots) => (
              <select
                {...slots}
                className={inputClass}
                value={order.group ?? ""}
                onChange={(event) => {
                  onChange({ order: { ...order, group: event.target.value || null } });
                }}
              >
                <option value="">(one order for all records)</option>
                {setup.columns
                  .filter((column) => column.isOrderable && column.name !== order.column)
                  .map((column) => (
                    <option key={column.name}>{column.name}</option>
                  ))}
              </select>
            )}
          </Field>
          <Tick
            label="No gaps (1, 2, 3), as an older program may expect"
            isOn={order.isDense ?? false}
            onTurn={(isDense) => {
              onChange({ order: { ...order, isDense } });
            }}
          />
          <Tick
            label="New records go to the top"
            isOn={order.newComesFirst ?? false}
            onTurn={(newComesFirst) => {
              onChange({ order: { ...order, newComesFirst } });
            }}
          />
          {sorted && (
            <p className="text-sm text-danger sm:col-span-2">
              The list is sorted differently (see above), so the running order shows only when somebody sorts by it.{" "}
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
