import type { ListPage } from "../api/client";
import { Button } from "../ui/Button";
import type { ChangeView, ListView } from "./listView";

interface ListFooterProps {
  page: ListPage;
  view: ListView;
  sizes: number[];
  onChange: ChangeView;
}

/** Which records are shown of how many, and the way to the others. */
export function ListFooter({ page, view, sizes, onChange }: ListFooterProps) {
  return (
    <nav
      aria-label="Pages"
      className="sticky bottom-0 -mb-5 flex flex-wrap items-center gap-x-4 gap-y-2 bg-paper py-2 text-[15px]"
    >
      <p aria-live="polite" className="mr-auto">
        {describeRange(page, view)}
      </p>
      <label className="flex items-center gap-2">
        <span className="text-faint">A page has</span>
        <select
          value={view.size}
          onChange={(event) => {
            onChange({ size: Number(event.target.value) });
          }}
          className="min-h-8 rounded border border-edge bg-sheet px-1"
        >
          {sizes.map((size) => (
            <option key={size}>{size}</option>
          ))}
        </select>
      </label>
      <div className="flex gap-1">
        <Button
          disabled={view.page <= 1}
          onClick={() => {
            onChange({ page: 1 });
          }}
        >
          First
        </Button>
        <Button
          disabled={view.page <= 1}
          onClick={() => {
            onChange({ page: view.page - 1 });
          }}
        >
          Previous
        </Button>
        <Button
          disabled={!page.hasNext}
          onClick={() => {
            onChange({ page: view.page + 1 });
          }}
        >
          Next
        </Button>
      </div>
    </nav>
  );
}

const number = new Intl.NumberFormat();

function describeRange(page: ListPage, view: ListView): string {
  if (page.rows.length === 0) return "No records";
  const first = (view.page - 1) * view.size + 1;
  const last = first + page.rows.length - 1;
  return `${number.format(first)} to ${number.format(last)} of ${describeCount(page)}`;
}

/** How many records there are, in words that tell how far to trust the number. */
export function describeCount({ count }: ListPage): string {
  const value = number.format(count.value);
  switch (count.certainty) {
    case "exact":
      return value;
    case "about":
      return `about ${number.format(Number(count.value.toPrecision(3)))}`;
    case "moreThan":
      return `more than ${value}`;
  }
}
