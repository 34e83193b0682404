import { useEffect, useId, useRef, useState } from "react";
import { api, unwrap, type Column } from "../../api/client";
import { ApiError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import type { FieldSlots } from "../../ui/Field";
import { formatSize } from "../../values/format";
import { FileDropArea } from "./FileDropArea";
import {
  filePath,
  holdsSeveral,
  nameIn,
  pathsIn,
  picturePath,
  sendFile,
  uploadAsPath,
  uploadIn,
  uploadPath,
  withPaths,
} from "./files";

interface FilesInputProps extends FieldSlots {
  address: PanelAddress;
  column: Column;
  /** The record's key; null for a new one. */
  record: string | null;
  /** The paths, as the column's value, with uploads among them; "" for none. */
  typed: string;
  /** The record's version; 0 for a new one. */
  version: number;
  /** The value that the record has; null for none. */
  present: string | null;
  onType: (typed: string) => void;
  /** Told how to wait for what is being sent, so that nothing is saved without it; null where nothing is. */
  onWait: (sent: (() => Promise<boolean>) | null) => void;
}

interface Sending {
  id: number;
  name: string;
  part: number;
  stop: () => void;
}

/** The files whose paths a column holds: chosen, dropped or pasted, seen before they are saved, one or several. */
export function FilesInput({
  address,
  column,
  record,
  version,
  typed,
  present,
  onType,
  onWait,
  ...slots
}: FilesInputProps) {
  const chooser = useRef<HTMLInputElement>(null);
  // What arrives one after the other is added to what is there by then.
  const latest = useRef(typed);
  const waiting = useRef(new Set<Promise<boolean>>());
  const number = useRef(0);
  // What was chosen first stands first, whichever arrives first.
  const places = useRef(new Map<string, number>());
  const [sending, setSending] = useState<Sending[]>([]);
  const [names, setNames] = useState<Record<string, string>>({});
  const [wrong, setWrong] = useState<string[]>([]);
  const note = useId();
  const kind = column.isPicture ? "picture" : "file";
  const isSeveral = holdsSeveral(column);
  const paths = pathsIn(column, typed);
  const stored = pathsIn(column, present);

  useEffect(() => {
    latest.current = typed;
  }, [typed]);

  const change = (next: (paths: string[]) => string[]) => {
    const value = withPaths(column, next(pathsIn(column, latest.current)));
    latest.current = value;
    onType(value);
  };
  const waitFor = (arrived: Promise<boolean>) => {
    waiting.current.add(arrived);
    onWait(async () => (await Promise.all(waiting.current)).every(Boolean));
    void arrived.then(() => {
      waiting.current.delete(arrived);
      if (waiting.current.size === 0) onWait(null);
    });
  };
  const follow = (sent: Promise<{ id: string; name: string | null }>, take: (id: string) => void) => {
    waitFor(
      sent.then(
        ({ id, name }) => {
          setNames((known) => ({ ...known, [id]: name ?? "" }));
          take(id);
          return true;
        },
        (failure: unknown) => {
          if (failure instanceof DOMException) return true;
          const says =
            failure instanceof ApiError ? (failure.fields[column.name] ?? failure.message) : (failure as Error).message;
          setWrong((before) => [...before, says]);
          return false;
        },
      ),
    );
  };
  const send = (file: File) => {
    if (column.mostBytes && file.size > column.mostBytes) {
      setWrong((before) => [
        ...before,
        `“${file.name}” has ${formatSize(file.size)}, and at most ${formatSize(column.mostBytes ?? 0)} are taken. Choose a smaller one.`,
      ]);
      return;
    }
    const id = (number.current += 1);
    const to = `${uploadPath(address, column.name)}?${new URLSearchParams({ name: file.name }).toString()}`;
    const { sent, stop } = sendFile(to, file, (part) => {
      setSending((all) => all.map((one) => (one.id === id ? { ...one, part } : one)));
    });
    setSending((all) => [...all, { id, name: file.name, part: 0, stop }]);
    const done = () => {
      setSending((all) => all.filter((one) => one.id !== id));
    };
    void sent.then(done, done);
    follow(sent, (upload) => {
      const path = uploadAsPath(upload);
      places.current.set(path, id);
      const placeOf = (one: string) => places.current.get(one) ?? 0;
      change((all) => (isSeveral ? [...all, path].sort((one, other) => placeOf(one) - placeOf(other)) : [path]));
    });
  };
  const take = (files: Iterable<File>) => {
    setWrong([]);
    const chosen = [...files];
    (isSeveral ? chosen : chosen.slice(0, 1)).forEach(send);
  };
  const turn = (path: string, id: string) => {
    follow(
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/uploads/{column}/{id}/turn", {
          params: { path: { ...address, column: column.name, id } },
        }),
      ),
      (turned) => {
        places.current.set(uploadAsPath(turned), places.current.get(path) ?? 0);
        change((all) => all.map((one) => (one === path ? uploadAsPath(turned) : one)));
      },
    );
  };

  return (
    <FileDropArea onTake={take} isColumn>
      {paths.length > 0 && (
        <ul className={column.isPicture ? "flex flex-wrap gap-3" : "grid gap-1"}>
          {paths.map((path) => {
            const upload = uploadIn(path);
            const place = stored.indexOf(path);
            const name = upload ? names[upload] || `A ${kind} that was chosen` : nameIn(path);
            const isKept = upload === null && record !== null && place >= 0;
            return (
              <li
                key={path}
                className={column.isPicture ? "grid content-start gap-1" : "flex flex-wrap items-center gap-2"}
              >
                {column.isPicture && (upload !== null || isKept) && (
                  <img
                    src={
                      upload !== null
                        ? uploadPath(address, column.name, upload)
                        : `${picturePath(address, record ?? "", column.name)}?size=400&place=${place}&of=${version}`
                    }
                    alt={name}
                    className="max-h-32 max-w-full rounded-sm border border-line"
                  />
                )}
                <span className="text-sm break-all">
                  {isKept ? (
                    <a className="link" href={filePath(address, record, column.name, place)} download>
                      {name}
                    </a>
                  ) : (
                    name
                  )}
                  {upload !== null && <span className="text-faint">, not saved yet</span>}
                </span>
                <span className="flex gap-2">
                  {column.isPicture && upload !== null && (
                    <Button
                      aria-label={`Turn ${name}`}
                      onClick={() => {
                        turn(path, upload);
                      }}
                    >
                      Turn
                    </Button>
                  )}
                  <Button
                    aria-label={`Remove ${name}`}
                    onClick={() => {
                      setWrong([]);
                      change((all) => all.filter((one) => one !== path));
                    }}
                  >
                    Remove
                  </Button>
                </span>
              </li>
            );
          })}
        </ul>
      )}
      <div className="grid gap-1.5">
        <div role="status" className="text-sm text-faint empty:hidden">
          {sending.map((one) => (
            <p key={one.id} className="flex items-center gap-2">
              Sending {one.name} … {Math.round(one.part * 100)} %
              <Button aria-label={`Stop sending ${one.name}`} onClick={one.stop}>
                Stop
              </Button>
            </p>
          ))}
          {sending.length === 0 && paths.length === 0 && (stored.length > 0 ? "Removed when you save" : `No ${kind}`)}
        </div>
        <div>
          <Button
            {...slots}
            aria-describedby={
              [slots["aria-describedby"], wrong.length > 0 && note].filter(Boolean).join(" ") || undefined
            }
            data-column={column.name}
            onClick={() => chooser.current?.click()}
          >
            {isSeveral ? `Add ${kind}s …` : paths.length === 0 ? `Choose a ${kind} …` : `Another ${kind} …`}
          </Button>
        </div>
        {wrong.length > 0 && (
          <div id={note} role="alert" className="max-w-prose text-sm font-medium text-danger">
            {wrong.map((says, place) => (
              <p key={`${place} ${says}`}>{says}</p>
            ))}
          </div>
        )}
      </div>
      <input
        ref={chooser}
        type="file"
        hidden
        tabIndex={-1}
        multiple={isSeveral}
        aria-label={column.label}
        accept={
          column.isPicture
            ? "image/jpeg,image/png,image/webp,image/gif"
            : column.endings.map((ending) => `.${ending.replace(/^\./, "")}`).join(",") || undefined
        }
        onChange={(event) => {
          take(event.target.files ?? []);
          // The same file can be chosen again after it was mended.
          event.target.value = "";
        }}
      />
    </FileDropArea>
  );
}
