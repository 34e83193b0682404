import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { ApiError, NoConnectionError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { PopoverPanel } from "../../ui/PopoverPanel";
import { Tick } from "../../ui/Tick";
import { fromStart, viewToParams, type ListView } from "../../api/listView";

const formats = [
  { value: "csv", label: "CSV", about: "for spreadsheets and programs" },
  { value: "xlsx", label: "XLSX", about: "a spreadsheet" },
  { value: "json", label: "JSON", about: "one array" },
  { value: "ndjson", label: "NDJSON", about: "a line for each record" },
  { value: "xml", label: "XML", about: "an element for each record" },
] as const;

interface ExportMenuProps {
  address: PanelAddress;
  view: ListView;
  /** The keys of chosen records, to take only those; undefined for all that is listed. */
  chosen?: string[];
  /** Where a file is brought in instead; null or absent for nowhere. */
  importTo?: string | null;
}

/** Takes all that is listed, whatever its number, home as a file, or just the chosen records. */
export function ExportMenu({ address, view, chosen, importTo }: ExportMenuProps) {
  const [withAll, setWithAll] = useState(false);
  const [isOpen, setOpen] = useState(false);
  const stop = useRef(new AbortController());
  const take = useMutation({
    mutationFn: (format: string) => {
      stop.current = new AbortController();
      return save(exportPath(address, view, format, withAll), chosen ?? [], stop.current.signal);
    },
    onSuccess: () => {
      setOpen(false);
    },
  });
  return (
    <PopoverPanel
      label="Export"
      trigger={<Button>{importTo ? "Export, import" : "Export"}</Button>}
      isOpen={isOpen}
      onOpenChange={(open) => {
        setOpen(open);
        take.reset();
      }}
      className="grid w-72 gap-2 p-3"
    >
      <p className="text-sm text-faint">
        {chosen
          ? "The selected records, in the sort order of this list."
          : "All records of this list, in its sort order."}
      </p>
      <Tick
        label="Include the columns hidden in the list"
        isOn={withAll}
        onTurn={(isOn) => {
          setWithAll(isOn);
        }}
      />
      {take.isPending ? (
        <p role="status" className="flex items-center gap-3">
          Exporting …
          <Button
            onClick={() => {
              stop.current.abort();
            }}
          >
            Stop
          </Button>
        </p>
      ) : (
        <ul>
          {formats.map(({ value, label, about }) => {
            const inside = (
              <>
                <span className="w-16 font-semibold">{label}</span>
                <span className="text-sm text-faint">{about}</span>
              </>
            );
            const shape = "flex min-h-8 w-full items-center gap-2 rounded px-2 text-left hover:bg-paper";
            return (
              <li key={value}>
                {chosen ? (
                  <button
                    type="button"
                    className={shape}
                    onClick={() => {
                      take.mutate(value);
                    }}
                  >
                    {inside}
                  </button>
                ) : (
                  // A link, so that the browser itself shows how far it is and can stop it.
                  <a
                    href={exportPath(address, view, value, withAll)}
                    download
                    onClick={() => {
                      setOpen(false);
                    }}
                    className={shape}
                  >
                    {inside}
                  </a>
                )}
              </li>
            );
          })}
        </ul>
      )}
      {importTo && (
        <Link className="link border-t border-line pt-2" to={importTo}>
          Import a file instead …
        </Link>
      )}
      {take.isError && !isStopped(take.error) && <Failure error={take.error} />}
    </PopoverPanel>
  );
}

function isStopped(error: Error): boolean {
  return error.name === "AbortError";
}

/** Fetches a file of chosen records, which an address has no room for, and hands it to the browser. */
async function save(path: string, keys: string[], signal: AbortSignal): Promise<void> {
  const answer = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ keys }),
    signal,
  }).catch((failure: unknown) => {
    throw failure instanceof DOMException && failure.name === "AbortError" ? failure : new NoConnectionError();
  });
  if (!answer.ok) throw new ApiError(answer.status, await answer.json().catch(() => null));
  const url = URL.createObjectURL(await answer.blob());
  const link = document.createElement("a");
  link.href = url;
  link.download = /filename="?([^";]+)/.exec(answer.headers.get("Content-Disposition") ?? "")?.[1] ?? "export";
  link.click();
  URL.revokeObjectURL(url);
}

function exportPath({ porch, panel }: PanelAddress, view: ListView, format: string, withAll: boolean): string {
  const params = viewToParams(fromStart(view));
  params.delete("size");
  if (withAll) params.set("all", "true");
  const query = params.toString();
  return `/api/porches/${porch}/panels/${panel}/export/${format}${query ? `?${query}` : ""}`;
}
