import type { Schemas } from "../../api/client";
import { shapeWords } from "../survey/surveyWords";
import { choicesOf, type TableSight } from "./tableSight";

const select = "min-h-9 max-w-56 rounded border border-edge bg-sheet px-2";

interface TableSightsProps {
  tables: Schemas["TableSummary"][];
  sight: TableSight;
  onChange: (sight: TableSight) => void;
}

/** Restricts the tables of a source by the group of their panels, by the part that they play, and by whether they have rows. */
export function TableSights({ tables, sight, onChange }: TableSightsProps) {
  const { groups, shapes } = choicesOf(tables);
  return (
    <>
      {groups.length > 1 && (
        <select
          aria-label="Group"
          className={select}
          value={sight.group}
          onChange={(event) => {
            onChange({ ...sight, group: event.target.value });
          }}
        >
          <option value="">All groups</option>
          {groups.map((group) => (
            <option key={group}>{group}</option>
          ))}
        </select>
      )}
      {shapes.length > 1 && (
        <select
          aria-label="What tables are"
          className={select}
          value={sight.shape}
          onChange={(event) => {
            onChange({ ...sight, shape: event.target.value as TableSight["shape"] });
          }}
        >
          <option value="">All sorts of tables</option>
          {shapes.map((shape) => (
            <option key={shape} value={shape}>
              {shapeWords[shape]}
            </option>
          ))}
        </select>
      )}
      <select
        aria-label="Rows"
        className={select}
        value={sight.rows}
        onChange={(event) => {
          onChange({ ...sight, rows: event.target.value as TableSight["rows"] });
        }}
      >
        <option value="">With rows or empty</option>
        <option value="some">With rows</option>
        <option value="none">Empty</option>
      </select>
    </>
  );
}
