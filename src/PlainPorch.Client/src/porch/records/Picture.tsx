import { useState } from "react";
import type { Column } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { formatValue } from "../../values/format";
import { picturePath } from "./files";

interface PictureProps {
  address: PanelAddress;
  /** The record's key. */
  record: string;
  /** How the record is called. */
  title: string;
  column: Column;
  /** The number of bytes, as text. */
  bytes: string;
  /** The longer side in pixels. */
  size: number;
  /** What changes with the record: the browser does not ask again for a picture that it has. */
  version?: number;
}

/** The picture that a column's bytes are, small; what cannot be drawn is told by its size. */
export function Picture({ address, record, title, column, bytes, size, version = 0 }: PictureProps) {
  const [isBroken, setBroken] = useState(false);
  if (isBroken) return <span title="This file is not a picture in a known format.">{formatValue(column, bytes)}</span>;
  const path = picturePath(address, record, column.name);
  return (
    <a
      href={`${path}?size=1600&of=${version || bytes}`}
      target="_blank"
      rel="noreferrer"
      tabIndex={size > 96 ? undefined : -1}
      className="inline-block align-middle"
      onClick={(event) => {
        event.stopPropagation();
      }}
    >
      <img
        src={`${path}?size=${size}&of=${version || bytes}`}
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
