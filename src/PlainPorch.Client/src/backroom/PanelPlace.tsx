import type { PanelDefinition, Schemas } from "../api/client";
import { DraftField } from "./DraftField";
import { Why } from "./ColumnDetail";

interface PanelPlaceProps {
  definition: PanelDefinition;
  setup: Schemas["PanelSetupDto"];
  errors: Record<string, string>;
  onChange: (part: Partial<PanelDefinition>) => void;
}

const panelParts = ["title", "group", "isHidden", "related", "marker", "order"];

/** Where the panel stands in the menu, and which records of other panels it shows with its own. */
export function PanelPlace({ definition, setup, errors, onChange }: PanelPlaceProps) {
  const related = definition.related ?? [];
  const isShown = (one: Schemas["RelatedRecords"]) =>
    related.some((known) => known.panel === one.panel && known.column === one.column);
  const toggle = (one: Schemas["RelatedRecords"]) => {
    onChange({
      related: isShown(one)
        ? related.filter((known) => known.panel !== one.panel || known.column !== one.column)
        : setup.related.filter((known) => isShown(known) || known === one),
    });
  };
  return (
    <details className="border border-line bg-sheet p-3">
      <summary className="cursor-pointer font-medium">Menu, related records and why the draft has it so</summary>
      <div className="mt-3 grid gap-4">
        <div className="grid items-end gap-3 sm:grid-cols-2">
          <DraftField
            label="Heading in the menu"
            value={definition.group ?? ""}
            error={errors.group}
            onKeep={(group) => {
              onChange({ group });
            }}
          />
          <label className="flex min-h-9 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-accent"
              checked={definition.isHidden ?? false}
              onChange={(event) => {
                onChange({ isHidden: event.target.checked });
              }}
            />
            Left out of the menu
          </label>
        </div>
        {setup.groups.length > 0 && (
          <p className="text-sm text-faint">Headings that other panels stand under: {setup.groups.join(" · ")}</p>
        )}
        {setup.related.length > 0 && (
          <fieldset className="grid gap-1">
            <legend className="text-sm font-medium">A record shows with it</legend>
            {setup.related.map((one) => (
              <label key={`${one.panel} ${one.column}`} className="flex min-h-8 items-center gap-2">
                <input
                  type="checkbox"
                  className="size-5 accent-accent"
                  checked={isShown(one)}
                  onChange={() => {
                    toggle(one);
                  }}
                />
                {one.label}
              </label>
            ))}
          </fieldset>
        )}
        {definition.order && (
          <p>
            The list comes in the order that <strong>{definition.order.column}</strong> keeps
            {definition.order.group && (
              <>
                , for each <strong>{definition.order.group}</strong> by itself
              </>
            )}
            .
          </p>
        )}
        {definition.marker && (
          <p>
            <strong>{definition.marker.column}</strong> marks a record as set aside
            {definition.marker.removed != null && <> by “{definition.marker.removed}”</>}.
          </p>
        )}
        <Why reasons={setup.reasons.filter(({ part }) => panelParts.includes(part))} />
      </div>
    </details>
  );
}
