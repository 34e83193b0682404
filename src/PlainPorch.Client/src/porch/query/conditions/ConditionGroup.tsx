import { Button } from "../../../ui/Button";
import { ConditionRow } from "./ConditionRow";
import { emptyGroup, isGroup, newTest, replaced, type Field, type Group, type Test } from "./tree";

interface ConditionGroupProps {
  group: Group;
  fields: Field[];
  /** How deep it stands, from 1. */
  depth: number;
  onChange: (group: Group) => void;
  /** Takes the whole group out; undefined for the outermost. */
  onRemove?: () => void;
}

const DEEPEST = 5;

/** Conditions of which all or one has to hold, groups within them. */
export function ConditionGroup({ group, fields, depth, onChange, onRemove }: ConditionGroupProps) {
  const put = (part: Group | Test) => {
    onChange({ ...group, parts: [...group.parts, part] });
  };
  const replace = (id: number, part: Group | Test | null) => {
    onChange(replaced(group, id, part));
  };
  const mode = `${group.isNot ? "not " : ""}${group.joint}`;
  return (
    <fieldset className={`grid gap-2 ${depth > 1 ? "border-l-4 border-tint pl-3" : ""}`}>
      <legend className="sr-only">Conditions</legend>
      <div className="flex items-center gap-2">
        <select
          aria-label="How these conditions are combined"
          value={mode}
          onChange={(event) => {
            const isNot = event.target.value.startsWith("not ");
            onChange({ ...group, isNot, joint: event.target.value.endsWith("all") ? "all" : "any" });
          }}
          className="min-h-9 rounded border border-edge bg-sheet px-1"
        >
          <option value="all">All of these</option>
          <option value="any">Any of these</option>
          {(depth > 1 || group.isNot) && <option value="not all">Not all of these</option>}
          {(depth > 1 || group.isNot) && <option value="not any">None of these</option>}
        </select>
        {onRemove && (
          <Button aria-label="Remove this group" onClick={onRemove}>
            ×
          </Button>
        )}
      </div>
      {group.parts.map((part) =>
        isGroup(part) ? (
          <ConditionGroup
            key={part.id}
            group={part}
            fields={fields}
            depth={depth + 1}
            onChange={(next) => {
              replace(part.id, next);
            }}
            onRemove={() => {
              replace(part.id, null);
            }}
          />
        ) : (
          <ConditionRow
            key={part.id}
            test={part}
            fields={fields}
            onChange={(next) => {
              replace(part.id, next);
            }}
            onRemove={() => {
              replace(part.id, null);
            }}
          />
        ),
      )}
      <div className="flex flex-wrap gap-2">
        <Button
          onClick={() => {
            put(newTest(fields[0]));
          }}
        >
          Add a condition
        </Button>
        {depth < DEEPEST && (
          <Button
            onClick={() => {
              put({
                ...emptyGroup(),
                joint: group.joint === "all" ? "any" : "all",
                parts: [newTest(fields[0]), newTest(fields[0])],
              });
            }}
          >
            Add a group
          </Button>
        )}
      </div>
    </fieldset>
  );
}
