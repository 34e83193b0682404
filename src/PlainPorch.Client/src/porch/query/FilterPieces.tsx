import type { Schemas } from "../../api/client";
import type { ChangeView, ListView } from "../../api/listView";

type Piece = Schemas["FilterPiece"];

interface FilterPiecesProps {
  view: ListView;
  pieces: Piece[];
  dropped: Schemas["FieldProblem"][];
  onChange: ChangeView;
}

/** How the search and the conditions were read, piece by piece, each to be taken off; and what could not be understood. */
export function FilterPieces({ view, pieces, dropped, onChange }: FilterPiecesProps) {
  // What narrows stands on the narrowing buttons.
  const shown = pieces.filter((piece) => piece.sort !== "narrowing");
  return (
    <>
      {shown.length > 0 && (
        <div role="group" aria-label="Filters" className="flex flex-wrap items-center gap-x-1.5 gap-y-1 text-sm">
          <span className="text-faint">Filters:</span>
          {shown.map((piece) => (
            <span
              key={`${piece.sort} ${piece.start} ${piece.index} ${piece.column ?? ""}`}
              className="inline-flex items-center rounded bg-tint"
            >
              <span className="max-w-96 truncate py-0.5 pl-2" title={piece.says}>
                {piece.says}
              </span>
              <button
                type="button"
                aria-label={`Remove ${piece.says}`}
                onClick={() => {
                  onChange(without(view, piece));
                }}
                className="size-6 rounded hover:bg-line"
              >
                ×
              </button>
            </span>
          ))}
        </div>
      )}
      {dropped.length > 0 && (
        <ul role="status" className="text-sm text-faint">
          {dropped.map((problem) => (
            <li key={problem.field + problem.message}>Not understood: {problem.message}</li>
          ))}
        </ul>
      )}
    </>
  );
}

function without(view: ListView, piece: Piece): Partial<ListView> {
  if (piece.sort === "unfit") return { unfit: view.unfit.filter((column) => column !== piece.column) };
  if (piece.sort === "breaks") return { breaks: "" };
  if (piece.sort === "search") {
    const rest = view.search.slice(0, piece.start) + view.search.slice(piece.start + piece.length);
    return { search: rest.trim().replace(/\s{2,}/g, " ") };
  }
  return { where: withoutCondition(view.where, piece.index) };
}

function withoutCondition(where: string, index: number): string {
  const tree = JSON.parse(where) as { all?: unknown[] };
  const rest = tree.all?.filter((_, place) => place !== index) ?? [];
  return rest.length > 0 ? JSON.stringify({ ...tree, all: rest }) : "";
}
