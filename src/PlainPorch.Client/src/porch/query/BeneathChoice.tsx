import type { Panel } from "../../api/client";
import { kindName } from "./beneath";

interface BeneathChoiceProps {
  kinds: Panel["related"];
  /** The kind that is shown, as `kindName` tells it; "" for none. */
  chosen: string;
  onChoose: (kind: string) => void;
}

/** Which related records of the row that one is at are shown beneath the list. */
export function BeneathChoice({ kinds, chosen, onChoose }: BeneathChoiceProps) {
  if (kinds.length === 0) return null;
  return (
    <select
      aria-label="Shown beneath the list"
      className="min-h-8 max-w-52 rounded border border-edge bg-sheet px-1"
      value={chosen}
      onChange={({ target }) => {
        onChoose(target.value);
      }}
    >
      <option value="">Nothing beneath</option>
      {kinds.map((kind) => (
        <option key={kindName(kind)} value={kindName(kind)}>
          {kind.label} beneath
        </option>
      ))}
    </select>
  );
}
