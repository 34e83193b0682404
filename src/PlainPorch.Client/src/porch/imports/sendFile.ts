import { ApiError, NoConnectionError } from "../../api/problems";

/** Sends a file, and tells how much of it is there; gives what was answered. */
export function sendFile(
  path: string,
  file: File,
  told: (share: number) => void,
  signal: AbortSignal,
): Promise<unknown> {
  return new Promise((resolve, reject) => {
    // What fetch does not tell: how far it is.
    const request = new XMLHttpRequest();
    request.open(
      "POST",
      `${path}${path.includes("?") ? "&" : "?"}${new URLSearchParams({ name: file.name }).toString()}`,
    );
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = (event) => {
      if (event.lengthComputable) told(event.loaded / event.total);
    };
    request.onload = () => {
      if (request.status < 300) resolve(read(request.responseText));
      else reject(new ApiError(request.status, read(request.responseText)));
    };
    request.onerror = () => {
      reject(new NoConnectionError());
    };
    request.onabort = () => {
      reject(new DOMException("It was stopped.", "AbortError"));
    };
    signal.addEventListener("abort", () => {
      request.abort();
    });
    request.send(file);
  });
}

function read(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return null;
  }
}
