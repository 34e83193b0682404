import { useState } from "react";
import { Button } from "../../ui/Button";
import { Field, inputClass } from "../../ui/Field";

export interface Reading {
  delimiter?: string | null;
  encoding?: string | null;
  hasHead?: boolean | null;
}

const DELIMITERS = [
  ["", "Find it out"],
  [",", "Comma"],
  [";", "Semicolon"],
  ["tab", "Tab"],
  ["|", "Upright stroke"],
  ["fixed", "None: fixed columns"],
] as const;

const ENCODINGS = [
  ["", "Find it out"],
  ["utf-8", "UTF-8"],
  ["utf-16", "UTF-16"],
  ["windows-1252", "Windows, western (1252)"],
  ["windows-1250", "Windows, central (1250)"],
  ["windows-1251", "Windows, Cyrillic (1251)"],
  ["iso-8859-15", "ISO 8859-15"],
  ["cp850", "DOS, western (850)"],
  ["cp437", "DOS, American (437)"],
  ["cp852", "DOS, central (852)"],
  ["cp866", "DOS, Cyrillic (866)"],
] as const;

interface ReadAsProps {
  reading: Reading;
  errors: Record<string, string>;
  isPending: boolean;
  onRead: (reading: Reading) => void;
}

/** How the files are read, for whom finding it out found the wrong thing. */
export function ReadAs({ reading, errors, isPending, onRead }: ReadAsProps) {
  const [delimiter, setDelimiter] = useState(reading.delimiter ?? "");
  const [encoding, setEncoding] = useState(reading.encoding ?? "");
  const [head, setHead] = useState(reading.hasHead == null ? "" : String(reading.hasHead));
  const isOther = !DELIMITERS.some(([value]) => value === delimiter);
  return (
    <details className="border-y border-line py-2" open={Object.keys(errors).length > 0}>
      <summary className="cursor-pointer font-medium">Read it differently</summary>
      <form
        className="mt-3 grid items-start gap-3 sm:grid-cols-2 lg:grid-cols-4"
        onSubmit={(event) => {
          event.preventDefault();
          onRead({ delimiter, encoding, hasHead: head === "" ? null : head === "true" });
        }}
      >
        <Field label="Values are parted by" error={errors.delimiter}>
          {(slots) => (
            <div className="flex gap-2">
              <select
                {...slots}
                className={inputClass}
                value={isOther ? "other" : delimiter}
                onChange={(event) => {
                  setDelimiter(event.target.value === "other" ? "~" : event.target.value);
                }}
              >
                {DELIMITERS.map(([value, label]) => (
                  <option key={value} value={value}>
                    {label}
                  </option>
                ))}
                <option value="other">Another character</option>
              </select>
              {isOther && (
                <input
                  aria-label="The character"
                  className={`${inputClass} w-16`}
                  maxLength={1}
                  value={delimiter}
                  onChange={(event) => {
                    setDelimiter(event.target.value);
                  }}
                />
              )}
            </div>
          )}
        </Field>
        <Field label="Encoding" error={errors.encoding}>
          {(slots) => (
            <select
              {...slots}
              className={inputClass}
              value={encoding}
              onChange={(event) => {
                setEncoding(event.target.value);
              }}
            >
              {ENCODINGS.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
              {!ENCODINGS.some(([value]) => value === encoding) && <option value={encoding}>{encoding}</option>}
            </select>
          )}
        </Field>
        <Field label="First row">
          {(slots) => (
            <select
              {...slots}
              className={inputClass}
              value={head}
              onChange={(event) => {
                setHead(event.target.value);
              }}
            >
              <option value="">Find it out</option>
              <option value="true">Names the columns</option>
              <option value="false">Has values</option>
            </select>
          )}
        </Field>
        <div className="self-end">
          <Button type="submit" disabled={isPending}>
            Read again
          </Button>
        </div>
      </form>
    </details>
  );
}
