import { useState } from "react";
import { useMutation } from "@tanstack/react-query";
import { api, unwrap, type PanelDefinition, type Schemas } from "../../api/client";
import { OrderEditor } from "../../porch/query/OrderEditor";
import { Choice } from "./Choice";
import { DraftField } from "./DraftField";
import { OrderSetup } from "./OrderSetup";
import { RelatedSetup } from "./RelatedSetup";
import { RuleField } from "./RuleField";
import { SetupPart } from "./SetupPart";
import type { PanelAddress } from "../../api/queries";
import { Tick } from "../../ui/Tick";
import { Why } from "./ColumnDetail";

const dateOrders = [
  { value: "dayMonthYear", label: "31/12/2019 (day first)" },
  { value: "monthDayYear", label: "12/31/2019 (month first)" },
] as const;

const numberMarks = [
  { value: "commaPoint", label: "1,258.22" },
  { value: "pointComma", label: "1.258,22" },
  { value: "spaceComma", label: "1 258,22" },
] as const;

type Notation = Schemas["NotationRequest"];

/** How the people of the whole porch write dates and numbers: shown so, and read so where they are typed. */
function NotationChoice({ porch, notation }: { porch: string; notation: Notation }) {
  const [chosen, setChosen] = useState(notation);
  const save = useMutation({
    mutationFn: (next: Notation) =>
      unwrap(api.PUT("/api/porches/{porch}/notation", { params: { path: { porch } }, body: next })),
  });
  const choose = (next: Notation) => {
    setChosen(next);
    save.mutate(next);
  };
  return (
    <fieldset className="flex flex-wrap items-center gap-x-4 gap-y-2">
      <legend className="mb-1 text-sm font-medium">In the whole porch</legend>
      <label className="flex items-center gap-2">
        Dates
        <select
          className={box}
          value={chosen.dates}
          onChange={(event) => {
            choose({ ...chosen, dates: event.target.value as Notation["dates"] });
          }}
        >
          {dateOrders.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        Numbers
        <select
          className={box}
          value={chosen.numbers}
          onChange={(event) => {
            choose({ ...chosen, numbers: event.target.value as Notation["numbers"] });
          }}
        >
          {numberMarks.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
      {save.isError && <span className="text-danger">{save.error.message}</span>}
    </fieldset>
  );
}

const box = "min-h-9 rounded border border-edge bg-sheet px-1";

/** Where the form is filled in, and which of its parts wait to be opened. */
function FormChoices({ definition, onChange }: Pick<PanelPlaceProps, "definition" | "onChange">) {
  const headings = [...new Set(definition.columns.map(({ section }) => section ?? ""))].filter((one) => one !== "");
  const folded = definition.folded ?? [];
  return (
    <fieldset className="grid gap-2 sm:grid-cols-2">
      <legend className="mb-1 text-sm font-medium">The form</legend>
      <Choice
        label="Opened from the list, it stands"
        value={definition.formIn ?? "page"}
        options={[
          { value: "page", label: "on a page of its own" },
          { value: "sheet", label: "at the side of the list" },
        ]}
        onChoose={(formIn) => {
          onChange({ formIn: formIn as PanelDefinition["formIn"] });
        }}
      />
      <div className="grid content-end">
        <Tick
          label="Saves by itself what is changed in a record"
          isOn={definition.savesWhileTyping ?? false}
          onTurn={(savesWhileTyping) => {
            onChange({ savesWhileTyping });
          }}
        />
      </div>
      {headings.length > 0 && (
        <div className="grid content-start">
          <p className="text-sm font-medium">Folded until somebody opens them</p>
          {headings.map((heading) => (
            <Tick
              key={heading}
              label={heading}
              isOn={folded.includes(heading)}
              onTurn={(isOn) => {
                onChange({ folded: isOn ? [...folded, heading] : folded.filter((one) => one !== heading) });
              }}
            />
          ))}
        </div>
      )}
    </fieldset>
  );
}

interface PanelPlaceProps {
  address: PanelAddress;
  definition: PanelDefinition;
  setup: Schemas["PanelSetupDto"];
  errors: Record<string, string>;
  onChange: (part: Partial<PanelDefinition>) => void;
}

const panelParts = ["title", "group", "isHidden", "related", "order"];

/** Where the panel stands in the menu, and which records of other panels it shows with its own. */
export function PanelPlace({ address, definition, setup, errors, onChange }: PanelPlaceProps) {
  const { porch } = address;
  return (
    <SetupPart title="Menu, order, form, related records and why it was drafted like this">
      <div className="grid items-end gap-3 sm:grid-cols-2">
        <DraftField
          label="Heading in the menu"
          value={definition.group ?? ""}
          error={errors.group}
          onKeep={(group) => {
            onChange({ group });
          }}
        />
        <Tick
          label="Hidden from the menu"
          isOn={definition.isHidden ?? false}
          onTurn={(isOn) => {
            onChange({ isHidden: isOn });
          }}
        />
      </div>
      {setup.groups.length > 0 && <p className="text-sm text-faint">Headings in use: {setup.groups.join(" · ")}</p>}
      <RuleField
        key={definition.only ?? ""}
        address={address}
        label="Only records of which this is true (all, if it is empty)"
        value={definition.only ?? ""}
        error={errors.only}
        onKeep={(text) => {
          onChange({ only: text.trim() === "" ? null : text });
        }}
      />
      <RelatedSetup porch={porch} definition={definition} setup={setup} error={errors.related} onChange={onChange} />
      <fieldset className="grid gap-2">
        <legend className="mb-1 text-sm font-medium">Default sort order of the list</legend>
        <OrderEditor
          columns={setup.columns
            .filter((column) => column.isOrderable)
            .map(({ name, isNullable, storeType }) => ({
              name,
              label: definition.columns.find((one) => one.name === name)?.label ?? name,
              isText: /char|text/.test(storeType),
              isNullable,
            }))}
          order={definition.sort ?? []}
          onChange={(sort) => {
            onChange({ sort });
          }}
        />
        {errors.sort && <p className="text-sm text-danger">{errors.sort}</p>}
      </fieldset>
      <Tick
        label="Cells of the list can be changed in place"
        isOn={definition.editsInList ?? false}
        onTurn={(isOn) => {
          onChange({ editsInList: isOn });
        }}
      />
      <FormChoices definition={definition} onChange={onChange} />
      <NotationChoice porch={porch} notation={{ dates: setup.dates, numbers: setup.numbers }} />
      <OrderSetup porch={porch} definition={definition} setup={setup} error={errors.order} onChange={onChange} />
      <Why reasons={setup.reasons.filter(({ part }) => panelParts.includes(part))} />
    </SetupPart>
  );
}
