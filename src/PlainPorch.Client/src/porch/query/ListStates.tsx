import type { ListPage, Panel, Schemas } from "../../api/client";
import type { ChangeView, ListView } from "../../api/listView";
import { Button } from "../../ui/Button";
import { Empty } from "../../ui/Empty";
import { firstPage } from "./ListFooter";

type FilterPiece = Schemas["FilterPiece"];

interface OfRecordProps {
  panel: Panel;
  view: ListView;
  page: ListPage | undefined;
  onChange: ChangeView;
}

/** Whose records are listed, and the way back to all of them. */
export function OfRecord({ panel, view, page, onChange }: OfRecordProps) {
  const label = panel.columns.find((column) => column.name === view.of)?.label ?? view.of;
  const title = Object.values(page?.lookups[view.of] ?? {})[0]?.title ?? view.value;
  return (
    <p className="flex flex-wrap items-center gap-2">
      <span>
        {label}: <strong className="font-semibold">{title}</strong>
      </span>
      <Button
        onClick={() => {
          onChange({ of: "", value: "" });
        }}
      >
        Show all {panel.label}
      </Button>
    </p>
  );
}

interface NothingHereProps {
  panel: Panel;
  view: ListView;
  /** What the list is restricted to, as it was understood. */
  pieces: FilterPiece[];
  onChange: ChangeView;
  isError: boolean;
}

/** What is said in place of records where there are none, with the way to some. */
export function NothingHere({ panel, view, pieces, onChange, isError }: NothingHereProps) {
  if (isError) return null;
  const [title, action, change] =
    view.narrowed.length + view.unfit.length > 0 || view.where !== "" || view.breaks !== ""
      ? [
          `No ${panel.recordLabel} has all of this.`,
          "Show all",
          { narrowed: [], unfit: [], breaks: "", where: "", search: "" },
        ]
      : view.search
        ? [`Nothing in ${panel.label} matches “${view.search}”.`, "Show all", { search: "" }]
        : view.of
          ? [`No ${panel.recordLabel} belongs here yet.`, null, {}]
          : view.page !== 1
            ? ["This page no longer exists.", "Go to the first page", firstPage]
            : [`${panel.label} has no records yet.`, null, {}];
  return (
    <Empty title={title}>
      <LookedFor panel={panel} pieces={pieces} />
      {action && (
        <Button
          className="mt-4"
          onClick={() => {
            onChange(change);
          }}
        >
          {action}
        </Button>
      )}
    </Empty>
  );
}

/** What was looked for, piece by piece, as it was understood: the one that is wrong shows at a glance. */
function LookedFor({ panel, pieces }: { panel: Panel; pieces: FilterPiece[] }) {
  if (pieces.length === 0) return null;
  const searched = panel.columns.filter((column) => column.searched).map(({ label }) => label);
  const hasWord = pieces.some(({ sort, says }) => sort === "search" && says.startsWith("“"));
  return (
    <div className="mx-auto mt-1 max-w-prose text-faint">
      <p>
        {pieces.length === 1 ? "It searched for " : "It searched for records that match all of: "}
        {pieces.map(({ says }) => says).join("; ")}.
      </p>
      {hasWord && <p>Words are searched in {searched.join(", ")}.</p>}
    </div>
  );
}
