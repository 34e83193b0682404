import { newOnceKey, onceHeader } from "../../api/acts";
import { bareAll } from "../../api/bare";
import type { Column, Schemas } from "../../api/client";
import { ApiError, NoConnectionError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { readArray } from "../../values/format";

const panelPath = (address: PanelAddress) =>
  `/api/porches/${encodeURIComponent(address.porch)}/panels/${encodeURIComponent(address.panel)}`;

/** Where the bytes of a record's column can be had, or one of the files whose paths it holds. */
export function filePath(address: PanelAddress, record: string, column: string, place = 0): string {
  return `${panelPath(address)}/records/${encodeURIComponent(record)}/files/${encodeURIComponent(column)}${place > 0 ? `?place=${place}` : ""}`;
}

/** Where the picture of a record's column is drawn. */
export function picturePath(address: PanelAddress, record: string, column: string): string {
  return `${panelPath(address)}/records/${encodeURIComponent(record)}/pictures/${encodeURIComponent(column)}`;
}

/** Where a file that waits for its record is, and a picture is drawn. */
export function uploadPath(address: PanelAddress, column: string, id = ""): string {
  return `${panelPath(address)}/uploads/${encodeURIComponent(column)}${id && `/${encodeURIComponent(id)}`}`;
}

const UPLOAD = "upload:";

/** Whether a column is made for the paths of several files. */
export function holdsSeveral(column: Column): boolean {
  return column.kind === "array" || column.kind === "several";
}

/** The paths that a value of a column of paths holds, and the uploads that are to take their place. */
export function pathsIn(column: Column, value: string | null | undefined): string[] {
  if (!value) return [];
  return holdsSeveral(column) ? (readArray(value) ?? []).filter((path) => path !== null) : [value];
}

/** The value that holds some paths. */
export function withPaths(column: Column, paths: string[]): string {
  if (paths.length === 0) return "";
  return holdsSeveral(column) ? JSON.stringify(paths) : (paths.at(-1) ?? "");
}

/** What an upload is called where a path is to be. */
export function uploadAsPath(id: string): string {
  return `${UPLOAD}${id}`;
}

/** The number of the upload that stands where a path is to be; null for a path. */
export function uploadIn(path: string): string | null {
  return path.startsWith(UPLOAD) ? path.slice(UPLOAD.length) : null;
}

/** The name of a file, without its folders. */
export function nameIn(path: string): string {
  return path.split(/[\\/]/).findLast((name) => name !== "") ?? path;
}

/**
 * Sends a file, which the server keeps until the record is saved.
 *
 * @param onProgress Told which part of it is sent, from 0 to 1.
 * @returns What it is called there, and a way to stop it.
 */
export function sendFile(path: string, file: Blob, onProgress: (part: number) => void) {
  // Nothing else tells how much of a file is sent.
  const request = new XMLHttpRequest();
  const sent = new Promise<Schemas["Upload"]>((resolve, reject) => {
    request.upload.onprogress = (event) => {
      onProgress(event.loaded / event.total);
    };
    request.onload = () => {
      const body = bodyOf(request.responseText);
      if (request.status === 200) resolve(body as Schemas["Upload"]);
      else reject(new ApiError(request.status, body));
    };
    request.onerror = () => {
      reject(new NoConnectionError());
    };
    request.onabort = () => {
      reject(new DOMException("Stopped.", "AbortError"));
    };
    request.open("POST", path);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.setRequestHeader(onceHeader, newOnceKey());
    request.send(file);
  });
  return {
    sent,
    stop: () => {
      request.abort();
    },
  };
}

function bodyOf(text: string): unknown {
  try {
    return bareAll(JSON.parse(text));
  } catch {
    return null;
  }
}
