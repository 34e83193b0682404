import { useState } from "react";
import type { Column } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { formatValue } from "../../values/format";

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
}

/** The picture that a column's bytes are, small; what cannot be drawn is told by its size. */
export function Picture({ address, record, title, column, bytes, size }: PictureProps) {
  const [isBroken, setBroken] = useState(false);
  if (isBroken) return <span title="This file is not a picture in a known format.">{formatValue(column, bytes)}</span>;
  const path = `/api/porches/${address.porch}/panels/${address.panel}/records/${encodeURIComponent(record)}/pictures/${encodeURIComponent(column.name)}`;
  return (
    <a
      href={`${path}?size=1600`}
      target="_blank"
      rel="noreferrer"
      tabIndex={size > 96 ? undefined : -1}
      className="inline-block align-middle"
      onClick={(event) => {
        event.stopPropagation();
      }}
    >
      <img
        src={`${path}?size=${size}`}
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
