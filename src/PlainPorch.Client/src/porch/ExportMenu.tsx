import { Popover } from "radix-ui";
import { useState } from "react";
import type { PanelAddress } from "../api/queries";
import { Button } from "../ui/Button";
import { viewToParams, type ListView } from "./listView";

const formats = [
  { value: "csv", label: "CSV", about: "for spreadsheets and programs" },
  { value: "xlsx", label: "XLSX", about: "a spreadsheet" },
  { value: "json", label: "JSON", about: "one array" },
  { value: "ndjson", label: "NDJSON", about: "a line for each record" },
  { value: "xml", label: "XML", about: "an element for each record" },
] as const;

/** Takes all that is listed, whatever its number, home as a file. The browser shows how far it is and can stop it. */
export function ExportMenu({ address, view }: { address: PanelAddress; view: ListView }) {
  const [withAll, setWithAll] = useState(false);
  const [isOpen, setOpen] = useState(false);
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button>Export</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          collisionPadding={8}
          aria-label="Export"
          className="z-20 grid w-72 gap-2 rounded border border-edge bg-sheet p-3 shadow-lg"
        >
          <p className="text-sm text-faint">All records of this list, in its order.</p>
          <label className="flex min-h-8 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-accent"
              checked={withAll}
              onChange={(event) => {
                setWithAll(event.target.checked);
              }}
            />
            With the columns that the list leaves out
          </label>
          <ul>
            {formats.map(({ value, label, about }) => (
              <li key={value}>
                <a
                  href={exportPath(address, view, value, withAll)}
                  download
                  onClick={() => {
                    setOpen(false);
                  }}
                  className="flex min-h-8 items-center gap-2 rounded px-2 hover:bg-paper"
                >
                  <span className="w-16 font-semibold">{label}</span>
                  <span className="text-sm text-faint">{about}</span>
                </a>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function exportPath({ porch, panel }: PanelAddress, view: ListView, format: string, withAll: boolean): string {
  const params = viewToParams({ ...view, page: 1, at: "" });
  params.delete("size");
  if (withAll) params.set("all", "true");
  const query = params.toString();
  return `/api/porches/${porch}/panels/${panel}/export/${format}${query ? `?${query}` : ""}`;
}
