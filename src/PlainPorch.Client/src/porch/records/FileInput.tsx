import { useEffect, useId, useRef, useState } from "react";
import { api, unwrap, type Column } from "../../api/client";
import { ApiError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import type { FieldSlots } from "../../ui/Field";
import { formatSize, formatValue } from "../../values/format";
import { FileDropArea } from "./FileDropArea";
import { filePath, picturePath, sendFile, uploadPath } from "./files";

interface FileInputProps extends FieldSlots {
  address: PanelAddress;
  column: Column;
  /** The record's key; null for a new one. */
  record: string | null;
  /** The number of an upload, the bytes that the record has, or "" for nothing. */
  typed: string;
  /** The record's version; 0 for a new one. */
  version: number;
  /** How many bytes the record has; null for none. */
  present: string | null;
  onType: (typed: string) => void;
  /** Told how to wait for what is being sent, so that nothing is saved without it; null where nothing is. */
  onWait: (sent: (() => Promise<boolean>) | null) => void;
}

const pictures = "image/jpeg,image/png,image/webp,image/gif";

/** A file or a picture: chosen, dropped or pasted, seen before it is saved. */
export function FileInput({
  address,
  column,
  record,
  version,
  typed,
  present,
  onType,
  onWait,
  ...slots
}: FileInputProps) {
  const chooser = useRef<HTMLInputElement>(null);
  const sending = useRef<() => void>(undefined);
  const [part, setPart] = useState<number | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [name, setName] = useState("");
  const note = useId();
  const kind = column.isPicture ? "picture" : "file";
  const isChosen = typed !== "" && typed !== present;

  useEffect(() => () => sending.current?.(), []);

  const follow = (sent: Promise<{ id: string }>) => {
    setWrong(null);
    const arrived = sent.then(
      ({ id }) => {
        onType(id);
        return true;
      },
      (failure: unknown) => {
        if (failure instanceof DOMException) return true;
        setWrong(
          failure instanceof ApiError ? (failure.fields[column.name] ?? failure.message) : (failure as Error).message,
        );
        return false;
      },
    );
    onWait(() => arrived);
    // What did not arrive is not waited for again: the field says so, and the form can be saved without it.
    void arrived.then(() => {
      setPart(null);
      sending.current = undefined;
      onWait(null);
    });
  };
  const take = (file: File | undefined) => {
    if (!file) return;
    setName(file.name);
    if (column.mostBytes && file.size > column.mostBytes) {
      setWrong(
        `“${file.name}” has ${formatSize(file.size)}, and at most ${formatSize(column.mostBytes)} are taken. Choose a smaller one.`,
      );
      return;
    }
    setPart(0);
    const { sent, stop } = sendFile(uploadPath(address, column.name), file, setPart);
    sending.current = stop;
    follow(sent);
  };
  const turn = () => {
    follow(
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/uploads/{column}/{id}/turn", {
          params: { path: { ...address, column: column.name, id: typed } },
        }),
      ),
    );
  };

  const shown = isChosen
    ? uploadPath(address, column.name, typed)
    : typed !== "" && record !== null
      ? `${picturePath(address, record, column.name)}?size=400&of=${version || present}`
      : null;
  return (
    <FileDropArea
      onTake={([file]) => {
        take(file);
      }}
    >
      {column.isPicture && shown !== null && (
        <img
          key={shown}
          src={shown}
          alt={isChosen ? `${column.label} that was chosen` : column.label}
          className="max-h-40 max-w-full rounded-sm border border-line"
        />
      )}
      <div className="grid gap-1.5">
        <span className="text-sm text-faint" role="status">
          {part !== null
            ? `Sending ${name} … ${Math.round(part * 100)} %`
            : isChosen
              ? `${name || "A file that was chosen"}, not saved yet`
              : typed !== ""
                ? formatValue(column, present)
                : present !== null
                  ? `Removed when you save`
                  : `No ${kind}`}
        </span>
        <div className="flex flex-wrap gap-2">
          <Button
            {...slots}
            aria-describedby={[slots["aria-describedby"], wrong && note].filter(Boolean).join(" ") || undefined}
            data-column={column.name}
            onClick={() => chooser.current?.click()}
          >
            {typed === "" ? `Choose a ${kind} …` : `Another ${kind} …`}
          </Button>
          {part !== null && (
            <Button
              onClick={() => {
                sending.current?.();
              }}
            >
              Stop
            </Button>
          )}
          {column.isPicture && isChosen && part === null && <Button onClick={turn}>Turn</Button>}
          {!column.isPicture && !isChosen && typed !== "" && record !== null && (
            <a className="link self-center text-sm" href={filePath(address, record, column.name)} download>
              Download
            </a>
          )}
          {typed !== "" && part === null && (
            <Button
              onClick={() => {
                setWrong(null);
                onType("");
              }}
            >
              Remove
            </Button>
          )}
        </div>
        {wrong && (
          <p id={note} role="alert" className="max-w-prose text-sm font-medium text-danger">
            {wrong}
          </p>
        )}
      </div>
      <input
        ref={chooser}
        type="file"
        hidden
        tabIndex={-1}
        aria-label={column.label}
        {...(column.isPicture && { accept: pictures })}
        onChange={(event) => {
          take(event.target.files?.[0]);
          // The same file can be chosen again after it was mended.
          event.target.value = "";
        }}
      />
    </FileDropArea>
  );
}
