import type { Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Tick } from "../../ui/Tick";

export type OrderPart = Schemas["OrderBy"];

/** A column that records can be put in order by. */
export interface OrderColumn {
  name: string;
  label: string;
  /** Whether figures in its texts can count as numbers. */
  isText: boolean;
  isNullable: boolean;
}

interface OrderEditorProps {
  columns: OrderColumn[];
  order: OrderPart[];
  onChange: (order: OrderPart[]) => void;
}

const MOST = 6;
const box = "min-h-8 rounded border border-edge bg-sheet px-1";

/** Puts an order of several columns together. */
export function OrderEditor({ columns, order, onChange }: OrderEditorProps) {
  const change = (place: number, part: Partial<OrderPart>) => {
    onChange(order.map((old, at) => (at === place ? { ...old, ...part } : old)));
  };
  const free = columns.filter((column) => !order.some((part) => part.column === column.name));
  return (
    <div className="grid gap-2">
      {order.map((part, place) => {
        const column = columns.find((one) => one.name === part.column);
        return (
          <div key={part.column} role="group" aria-label={column?.label} className="flex flex-wrap items-center gap-2">
            <span className="w-20 text-sm text-faint">{place === 0 ? "Sort by" : "then by"}</span>
            <select
              aria-label="Column"
              className={`${box} max-w-48`}
              value={part.column}
              onChange={(event) => {
                change(place, { column: event.target.value, natural: false, emptyFirst: false });
              }}
            >
              {!column && <option>{part.column}</option>}
              {columns
                .filter((one) => one.name === part.column || free.includes(one))
                .map((one) => (
                  <option key={one.name} value={one.name}>
                    {one.label}
                  </option>
                ))}
            </select>
            <select
              aria-label="Direction"
              className={box}
              value={part.descending ? "falling" : "rising"}
              onChange={(event) => {
                change(place, { descending: event.target.value === "falling" });
              }}
            >
              <option value="rising">ascending</option>
              <option value="falling">descending</option>
            </select>
            {column?.isNullable && (
              <Tick
                label="empty first"
                isSmall
                isOn={part.emptyFirst}
                onTurn={(emptyFirst) => {
                  change(place, { emptyFirst });
                }}
              />
            )}
            {column?.isText && (
              <Tick
                label="C-2 before C-10"
                isSmall
                isOn={part.natural}
                onTurn={(natural) => {
                  change(place, { natural });
                }}
              />
            )}
            <button
              type="button"
              aria-label={`Remove ${column?.label ?? part.column}`}
              className="size-8 rounded hover:bg-tint"
              onClick={() => {
                onChange(order.filter((_, at) => at !== place));
              }}
            >
              ×
            </button>
          </div>
        );
      })}
      {free[0] && order.length < MOST && (
        <Button
          className="justify-self-start"
          onClick={() => {
            if (free[0])
              onChange([...order, { column: free[0].name, descending: false, emptyFirst: false, natural: false }]);
          }}
        >
          {order.length === 0 ? "Choose a column" : "Add a column"}
        </Button>
      )}
    </div>
  );
}
