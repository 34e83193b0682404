import { useState } from "react";
import type { Column } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { formatValue } from "../../values/format";
import { nameIn, picturePath } from "./files";

interface PictureProps {
  address: PanelAddress;
  /** The record's key. */
  record: string;
  /** How the record is called. */
  title: string;
  column: Column;
  /** The number of bytes, or the path, as text. */
  bytes: string;
  /** Which of several files it is, from 0. */
  place?: number;
  /** The longer side in pixels. */
  size: number;
  /** What changes with the record: the browser does not ask again for a picture that it has. */
  version?: number;
}

/** The picture that a column's bytes are, small; what cannot be drawn is told by its size. */
export function Picture({ address, record, title, column, bytes, place = 0, size, version = 0 }: PictureProps) {
  const [isBroken, setBroken] = useState(false);
  if (isBroken)
    return (
      <span
        title={
          column.holdsPaths
            ? "There is no such file, or it is not a picture in a known format."
            : "This file is not a picture in a known format."
        }
      >
        {column.holdsPaths ? nameIn(bytes) : formatValue(column, bytes)}
      </span>
    );
  const path = picturePath(address, record, column.name);
  const of = encodeURIComponent(column.holdsPaths ? `${version}-${nameIn(bytes)}` : version || bytes);
  return (
    <a
      href={`${path}?size=1600&place=${place}&of=${of}`}
      target="_blank"
      rel="noreferrer"
      tabIndex={size > 96 ? undefined : -1}
      className="inline-block align-middle"
      onClick={(event) => {
        event.stopPropagation();
      }}
    >
      <img
        src={`${path}?size=${size}&place=${place}&of=${of}`}
        alt={`${column.label} of ${title}`}
        loading="lazy"
        className={size > 96 ? "max-h-72 rounded border border-line" : "h-6 max-w-24 rounded-sm object-contain"}
        onError={() => {
          setBroken(true);
        }}
      />
    </a>
  );
}
