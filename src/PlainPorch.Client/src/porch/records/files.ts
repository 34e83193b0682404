import { newOnceKey, onceHeader } from "../../api/acts";
import { bareAll } from "../../api/bare";
import type { Schemas } from "../../api/client";
import { ApiError, NoConnectionError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";

const panelPath = (address: PanelAddress) =>
  `/api/porches/${encodeURIComponent(address.porch)}/panels/${encodeURIComponent(address.panel)}`;

/** Where the bytes of a record's column can be had. */
export function filePath(address: PanelAddress, record: string, column: string): string {
  return `${panelPath(address)}/records/${encodeURIComponent(record)}/files/${encodeURIComponent(column)}`;
}

/** Where the picture of a record's column is drawn. */
export function picturePath(address: PanelAddress, record: string, column: string): string {
  return `${panelPath(address)}/records/${encodeURIComponent(record)}/pictures/${encodeURIComponent(column)}`;
}

/** Where a file that waits for its record is, and a picture is drawn. */
export function uploadPath(address: PanelAddress, column: string, id = ""): string {
  return `${panelPath(address)}/uploads/${encodeURIComponent(column)}${id && `/${encodeURIComponent(id)}`}`;
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
