import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Field, inputClass } from "../../ui/Field";
import { acts, rightsOn, saysOn, slugOf, type Act, type OnPanel, type Role } from "./acts";

interface RoleEditorProps {
  role: Role;
  isNew: boolean;
  taken: string[];
  panels: Schemas["RolePanel"][];
  /** What is wrong, by the field within the role. */
  problems: Record<string, string>;
  onChange: (role: Role) => void;
  onRemove: () => void;
  /** Shows the porch as the role sees it; null as long as changes are not saved. */
  onSeeAs: (() => void) | null;
}

/** What people of a role may do. */
export function RoleEditor({ role, isNew, taken, panels, problems, onChange, onRemove, onSeeAs }: RoleEditorProps) {
  const [added, setAdded] = useState<string | null>(null);
  const set = (part: Partial<Role>) => {
    onChange({ ...role, ...part });
  };
  const open = panels.filter((panel) => !role.panels.some((one) => one.panel === panel.slug));
  return (
    <div className="grid gap-6">
      <div className="grid max-w-xl gap-4">
        <Field label="Name" error={problems.name ?? problems.slug}>
          {(slots) => (
            <input
              {...slots}
              value={role.name}
              onChange={(event) => {
                const name = event.target.value;
                // Who has the role is written down by this name once it is saved.
                set(isNew ? { name, slug: slugOf(name, taken) } : { name });
              }}
              className={inputClass}
            />
          )}
        </Field>
        <Check
          label="Sees all panels but the exceptions"
          value={role.sees}
          onChange={(sees) => {
            set({ sees });
          }}
        />
        <Acts
          legend="May usually"
          value={role.may}
          onChange={(may) => {
            set({ may });
          }}
        />
        <Check
          label="Invites and administers people"
          value={role.managesPeople}
          onChange={(managesPeople) => {
            set({ managesPeople });
          }}
        />
        <Field
          label="These people are records of"
          hint="Each is tied to one of them, which a condition names as current_person."
          error={problems.person}
        >
          {(slots) => (
            <select
              {...slots}
              value={role.person ?? ""}
              onChange={(event) => {
                set({ person: event.target.value === "" ? null : event.target.value });
              }}
              className={inputClass}
            >
              <option value="">no panel</option>
              {panels
                .filter((panel) => panel.canBePeople)
                .map((panel) => (
                  <option key={panel.slug} value={panel.slug}>
                    {panel.label}
                  </option>
                ))}
            </select>
          )}
        </Field>
      </div>
      <section aria-labelledby="exceptions" className="grid gap-3">
        <h2 id="exceptions" className="text-xl font-semibold">
          Exceptions
        </h2>
        {role.panels.map((on, place) => (
          <Exception
            key={on.panel}
            role={role}
            on={on}
            panel={panels.find((panel) => panel.slug === on.panel)}
            isOpen={added === on.panel || Object.keys(problems).some((field) => field.startsWith(`panels.${place}.`))}
            problems={Object.fromEntries(
              Object.entries(problems)
                .filter(([field]) => field.startsWith(`panels.${place}.`))
                .map(([field, message]) => [field.slice(`panels.${place}.`.length), message]),
            )}
            onChange={(next) => {
              set({ panels: role.panels.map((one, at) => (at === place ? next : one)) });
            }}
            onRemove={() => {
              set({ panels: role.panels.filter((_, at) => at !== place) });
            }}
          />
        ))}
        {open.length > 0 && (
          <select
            aria-label="Add an exception for a panel"
            value=""
            onChange={(event) => {
              setAdded(event.target.value);
              set({
                panels: [
                  ...role.panels,
                  { panel: event.target.value, sees: role.sees ? null : true, may: null, rows: null, columns: [] },
                ],
              });
            }}
            className={`${inputClass} max-w-xs`}
          >
            <option value="" disabled>
              Add an exception for …
            </option>
            {open.map((panel) => (
              <option key={panel.slug} value={panel.slug}>
                {panel.label}
              </option>
            ))}
          </select>
        )}
      </section>
      <div className="flex flex-wrap gap-2 border-t border-line pt-4">
        <Button disabled={onSeeAs === null} onClick={onSeeAs ?? undefined}>
          See the porch as {role.name}
        </Button>
        <Button onClick={onRemove}>Remove the role</Button>
      </div>
    </div>
  );
}

interface CheckProps {
  label: string;
  value: boolean;
  onChange: (value: boolean) => void;
}

function Check({ label, value, onChange }: CheckProps) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        checked={value}
        onChange={(event) => {
          onChange(event.target.checked);
        }}
      />
      {label}
    </label>
  );
}

interface ActsProps {
  legend: string;
  value: Act[];
  onChange: (value: Act[]) => void;
}

function Acts({ legend, value, onChange }: ActsProps) {
  const all = value.includes("all");
  return (
    <fieldset>
      <legend className="text-sm font-medium">{legend}</legend>
      <div className="mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2">
        <Check
          label="Everything"
          value={all}
          onChange={(is) => {
            onChange(is ? ["all"] : []);
          }}
        />
        {acts.map(({ act, label }) => (
          <Check
            key={act}
            label={label}
            value={all || value.includes(act)}
            onChange={(is) => {
              const now = all ? acts.map((one) => one.act) : value;
              onChange(is ? [...now, act] : now.filter((one) => one !== act));
            }}
          />
        ))}
      </div>
    </fieldset>
  );
}

interface ExceptionProps {
  role: Role;
  on: OnPanel;
  panel: Schemas["RolePanel"] | undefined;
  isOpen: boolean;
  problems: Record<string, string>;
  onChange: (on: OnPanel) => void;
  onRemove: () => void;
}

function Exception({ role, on, panel, isOpen, problems, onChange, onRemove }: ExceptionProps) {
  const sees = on.sees ?? role.sees;
  return (
    <details open={isOpen || undefined} className="border border-line bg-sheet px-3 py-2">
      <summary className="cursor-pointer">
        <span className="font-medium">{panel?.label ?? on.panel}</span>{" "}
        <span className="text-faint">{saysOn(role, on.panel).join(" · ")}</span>
      </summary>
      <div className="mt-3 grid gap-4">
        <Check
          label="Sees it"
          value={sees}
          onChange={(value) => {
            onChange({ ...on, sees: value });
          }}
        />
        {sees && (
          <>
            <Check
              label="May do something else here than usually"
              value={on.may !== null}
              onChange={(is) => {
                onChange({ ...on, may: is ? (rightsOn(role, on.panel) ?? []) : null });
              }}
            />
            {on.may !== null && (
              <Acts
                legend="May here"
                value={on.may}
                onChange={(may) => {
                  onChange({ ...on, may });
                }}
              />
            )}
            <Field
              label="Only the records where"
              hint={
                role.person === null
                  ? "An expression, such as: state = 'open'. Empty for all of them."
                  : "An expression, such as: owner = current_person. Empty for all of them."
              }
              error={problems.rows}
            >
              {(slots) => (
                <input
                  {...slots}
                  value={on.rows ?? ""}
                  spellCheck={false}
                  onChange={(event) => {
                    onChange({ ...on, rows: event.target.value === "" ? null : event.target.value });
                  }}
                  className={`${inputClass} font-mono text-sm`}
                />
              )}
            </Field>
            {panel && <Columns on={on} panel={panel} problems={problems} onChange={onChange} />}
          </>
        )}
        {problems.panel && <p className="text-danger">{problems.panel}</p>}
        <div>
          <Button onClick={onRemove}>Remove the exception</Button>
        </div>
      </div>
    </details>
  );
}

interface ColumnsProps {
  on: OnPanel;
  panel: Schemas["RolePanel"];
  problems: Record<string, string>;
  onChange: (on: OnPanel) => void;
}

function Columns({ on, panel, problems, onChange }: ColumnsProps) {
  const open = panel.columns.filter((column) => !on.columns.some((one) => one.name === column.name));
  return (
    <fieldset className="grid gap-2">
      <legend className="text-sm font-medium">Columns</legend>
      {on.columns.map((right, place) => {
        const column = panel.columns.find((one) => one.name === right.name);
        const change = (part: Partial<typeof right>) => {
          onChange({ ...on, columns: on.columns.map((one, at) => (at === place ? { ...one, ...part } : one)) });
        };
        const problem = problems[`columns.${place}.access`] ?? problems[`columns.${place}.name`];
        const label = column?.label ?? right.name;
        return (
          <div key={right.name} className="flex flex-wrap items-center gap-2">
            <span className="min-w-36">{label}</span>
            <select
              aria-label={`What they may do with ${label}`}
              value={right.access}
              onChange={(event) => {
                change({ access: event.target.value as typeof right.access });
              }}
              className={`${inputClass} max-w-60`}
            >
              <option value="readOnly">see it, not change it</option>
              {!column?.mustBeSeen && <option value="masked">see only its end</option>}
              {!column?.mustBeSeen && <option value="hidden">not know of it</option>}
            </select>
            {right.access === "masked" && (
              <label className="flex items-center gap-2">
                the last
                <input
                  type="number"
                  min={0}
                  max={20}
                  value={right.shows}
                  onChange={(event) => {
                    change({ shows: Number(event.target.value) });
                  }}
                  className={`${inputClass} max-w-20`}
                />
                characters
              </label>
            )}
            <Button
              aria-label={`As usual for ${label}`}
              onClick={() => {
                onChange({ ...on, columns: on.columns.filter((_, at) => at !== place) });
              }}
            >
              As usual
            </Button>
            {problem && <p className="text-sm font-medium text-danger">{problem}</p>}
          </div>
        );
      })}
      {open.length > 0 && (
        <select
          aria-label="Add a column that they may not see or change"
          value=""
          onChange={(event) => {
            onChange({ ...on, columns: [...on.columns, { name: event.target.value, access: "readOnly", shows: 4 }] });
          }}
          className={`${inputClass} max-w-xs`}
        >
          <option value="" disabled>
            Add a column …
          </option>
          {open.map((column) => (
            <option key={column.name} value={column.name}>
              {column.label}
            </option>
          ))}
        </select>
      )}
    </fieldset>
  );
}
