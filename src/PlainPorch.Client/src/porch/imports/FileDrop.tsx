import { useMutation } from "@tanstack/react-query";
import { useId, useRef, useState, type DragEvent } from "react";
import { ApiError } from "../../api/problems";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { sendFile } from "./sendFile";

const KINDS =
  ".csv,.tsv,.tab,.txt,.prn,.xlsx,.xlsm,.xls,.ods,.json,.ndjson,.jsonl,.xml,.dbf,.dbt,.fpt,.sqlite,.sqlite3,.db,.gz,.zip";

interface FileDropProps {
  /** Makes the place for the files, where there is none yet; answers the address that they are sent to. */
  onBegin: () => Promise<string>;
  /** Called when all of them are there, with what was answered to each. */
  onSent: (answers: unknown[]) => void;
  isSeveral: boolean;
}

/** Takes files that are dropped on it, or chosen. */
export function FileDrop({ onBegin, onSent, isSeveral }: FileDropProps) {
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const stop = useRef(new AbortController());
  const [isOver, setOver] = useState(false);
  const [sending, setSending] = useState<{ name: string; share: number } | null>(null);
  const send = useMutation({
    mutationFn: async (files: File[]) => {
      stop.current = new AbortController();
      const path = await onBegin();
      const answers: unknown[] = [];
      for (const file of files) {
        setSending({ name: file.name, share: 0 });
        answers.push(
          await sendFile(
            path,
            file,
            (share) => {
              setSending({ name: file.name, share });
            },
            stop.current.signal,
          ),
        );
      }
      return answers;
    },
    onSuccess: onSent,
    onSettled: () => {
      setSending(null);
    },
  });
  const take = (files: FileList | null) => {
    const chosen = [...(files ?? [])];
    if (chosen.length > 0) send.mutate(isSeveral ? chosen : chosen.slice(0, 1));
  };
  const over = (isThere: boolean) => (event: DragEvent) => {
    event.preventDefault();
    setOver(isThere);
  };
  return (
    <div className="grid gap-3">
      <div
        onDragEnter={over(true)}
        onDragOver={over(true)}
        onDragLeave={over(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          take(event.dataTransfer.files);
        }}
        className={`grid justify-items-center gap-3 border-2 border-dashed px-4 py-8 text-center ${isOver ? "border-accent bg-accent-tint" : "border-edge bg-sheet"}`}
      >
        {sending ? (
          <div role="status" className="grid w-full max-w-md gap-2">
            <p>Sending {sending.name} …</p>
            <progress
              aria-label={`Sending ${sending.name}`}
              max={1}
              value={sending.share}
              className="h-2 w-full accent-accent"
            />
            <div>
              <Button
                onClick={() => {
                  stop.current.abort();
                }}
              >
                Cancel
              </Button>
            </div>
          </div>
        ) : (
          <>
            <p className="font-serif text-lg">{isSeveral ? "Drop files here" : "Drop a file here"}</p>
            <input
              ref={input}
              id={id}
              type="file"
              multiple={isSeveral}
              accept={KINDS}
              className="sr-only"
              tabIndex={-1}
              aria-label={isSeveral ? "Files" : "File"}
              onChange={(event) => {
                take(event.target.files);
                // The same file can be chosen again once it was mended.
                event.target.value = "";
              }}
            />
            <Button
              tone="next"
              onClick={() => {
                input.current?.click();
              }}
            >
              {isSeveral ? "Choose files" : "Choose a file"}
            </Button>
            <p className="max-w-prose text-sm text-faint">
              Delimited text, spreadsheets (.xlsx, .xls, .ods), JSON, XML, SQLite, dBASE tables with their long texts,
              and any of them as .gz or .zip. Nothing is written before you have seen what becomes of it.
            </p>
          </>
        )}
      </div>
      {send.isError && send.error.name !== "AbortError" && (
        <Notice tone="danger" title="The file was not taken.">
          {send.error instanceof ApiError ? (send.error.fields.file ?? send.error.message) : send.error.message}
        </Notice>
      )}
    </div>
  );
}
