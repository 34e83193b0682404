import { useState, type ReactNode } from "react";
import type { ListPage, Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import type { ChangeView, ListView } from "../../api/listView";
import { formatCount } from "../../values/format";

type RowCount = Schemas["RowCount"];

interface ListFooterProps {
  page: ListPage;
  /** How many records there are; undefined until that is known. */
  count: RowCount | undefined;
  view: ListView;
  /** Whether the records are still those of another view. */
  isStale: boolean;
  sizes: number[];
  onChange: ChangeView;
  /** What else decides how the list looks. */
  looks?: ReactNode;
}

/** Which records are shown of how many, and the way to the others. */
export function ListFooter({ page, count, view, isStale, sizes, onChange, looks }: ListFooterProps) {
  return (
    <nav
      aria-label="Pages"
      className="bottom-0 z-10 -mb-5 flex flex-wrap items-center gap-x-4 gap-y-2 bg-paper py-2 text-[15px] sm:sticky tight:static"
    >
      <p aria-live="polite" className="mr-auto">
        {isStale ? "Searching …" : describeRange(page, view, count)}
      </p>
      <label className="flex items-center">
        <span className="sr-only">Records per page</span>
        <select
          value={view.size}
          onChange={(event) => {
            onChange({ size: Number(event.target.value) });
          }}
          className="min-h-8 rounded border border-edge bg-sheet px-1"
        >
          {sizes.map((size) => (
            <option key={size} value={size}>
              {size} per page
            </option>
          ))}
        </select>
      </label>
      <PageNumber
        key={view.page}
        page={view.page}
        onJump={(to) => {
          onChange({ page: to });
        }}
      />
      <div className="flex gap-1">
        <Button
          disabled={!page.hasPrevious}
          onClick={() => {
            onChange(firstPage);
          }}
        >
          First
        </Button>
        <Button
          disabled={!page.hasPrevious}
          onClick={() => {
            onChange(previousPage(page, view));
          }}
        >
          Previous
        </Button>
        <Button
          disabled={!page.hasNext}
          onClick={() => {
            onChange(nextPage(page, view));
          }}
        >
          Next
        </Button>
        {page.next !== null && (
          <Button
            disabled={!page.hasNext}
            onClick={() => {
              onChange(lastPage(count, view));
            }}
          >
            Last
          </Button>
        )}
      </div>
      {looks}
    </nav>
  );
}

/** The page's number, typed to jump there. */
function PageNumber({ page, onJump }: { page: number; onJump: (page: number) => void }) {
  const [typed, setTyped] = useState(page === 0 ? "" : String(page));
  const jump = () => {
    const to = Number(typed);
    if (Number.isInteger(to) && to >= 1 && to !== page) onJump(to);
    else setTyped(page === 0 ? "" : String(page));
  };
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        jump();
      }}
    >
      <label className="flex items-center gap-2">
        <span className="text-faint">Page</span>
        <input
          aria-label="Page"
          inputMode="numeric"
          value={typed}
          maxLength={8}
          onChange={(event) => {
            setTyped(event.target.value.replace(/\D/g, ""));
          }}
          onFocus={(event) => {
            event.target.select();
          }}
          onBlur={jump}
          className="min-h-8 w-16 rounded border border-edge bg-sheet px-2 text-right"
        />
      </label>
    </form>
  );
}

export const firstPage: Partial<ListView> = { page: 1, at: "" };

/** The page after: from the last record on where records can be told apart, by its number else. */
export function nextPage(page: ListPage, view: ListView): Partial<ListView> {
  return { page: view.page === 0 ? 0 : view.page + 1, at: page.next ?? "" };
}

/** The page before. */
export function previousPage(page: ListPage, view: ListView): Partial<ListView> {
  // Near the front by number: after records were taken away, the first page is a full one all the same.
  if (view.page === 2) return firstPage;
  return { page: view.page === 0 ? 0 : Math.max(1, view.page - 1), at: page.previous ?? "" };
}

function lastPage(count: RowCount | undefined, view: ListView): Partial<ListView> {
  return { page: lastPageNumber(count, view.size), at: "last" };
}

/** The number of the last page; 0 where only an exact count would tell. */
export function lastPageNumber(count: RowCount | undefined, size: number): number {
  return count?.certainty === "exact" ? Math.max(1, Math.ceil(count.value / size)) : 0;
}

function describeRange(page: ListPage, view: ListView, count: RowCount | undefined): string {
  if (page.rows.length === 0) return "No records";
  const of = count === undefined ? "" : ` of ${describeCount(count)}`;
  if (view.page === 0) return `${page.hasNext ? "" : "The last "}${formatCount(page.rows.length)}${of}`;
  const first = (view.page - 1) * view.size + 1;
  return `${formatCount(first)} to ${formatCount(first + page.rows.length - 1)}${of}`;
}

/** How many records there are, in words that tell how far to trust the number. */
export function describeCount(count: RowCount): string {
  const value = formatCount(count.value);
  switch (count.certainty) {
    case "exact":
      return value;
    case "about":
      return `about ${formatCount(Number(count.value.toPrecision(3)))}`;
    case "moreThan":
      return `more than ${value}`;
  }
}
