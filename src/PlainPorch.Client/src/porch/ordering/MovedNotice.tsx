import { Button } from "../../ui/Button";
import { formatCount } from "../../values/format";
import type { Moves } from "./useMoves";

/** Says what was moved, offers to take it back, and says why something could not be moved. */
export function MovedNotice({ moves }: { moves: Moves }) {
  const { move, undo } = moves;
  const failed = undo.error ?? move.error;
  if (failed)
    return (
      <p role="alert" className="flex flex-wrap items-center gap-3 border-l-4 border-danger bg-danger-tint px-3 py-1.5">
        {failed.message}
        <Button
          onClick={() => {
            move.reset();
            undo.reset();
          }}
        >
          Close
        </Button>
      </p>
    );
  if (!move.data) return null;
  const { moved, title, entry } = move.data;
  return (
    <p role="status" className="flex flex-wrap items-center gap-3 border-l-4 border-edge bg-tint px-3 py-1.5">
      Moved: {title}
      {moved > 1 && ` and ${formatCount(moved - 1)} more`}
      <Button
        accessKey="b"
        title="Alt + B"
        disabled={undo.isPending}
        onClick={() => {
          undo.mutate(entry);
        }}
      >
        Move back
      </Button>
    </p>
  );
}
