import type { Column, RecordView } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { formatSize } from "../../values/format";
import { filePath, nameIn, pathsIn } from "./files";
import { Picture } from "./Picture";

interface RecordFilesProps {
  address: PanelAddress;
  column: Column;
  record: RecordView;
  /** The value that holds the paths. */
  value: string;
}

/** The files whose paths a record's column holds, to see and to download; those that are missing are told. */
export function RecordFiles({ address, column, record, value }: RecordFilesProps) {
  const files = record.files?.[column.name] ?? [];
  return (
    <ul className={column.isPicture ? "flex flex-wrap gap-3" : "grid gap-0.5"}>
      {pathsIn(column, value).map((path, place) => {
        const bytes = files[place]?.bytes ?? null;
        const href = filePath(address, record.key, column.name, place);
        return (
          <li key={`${place} ${path}`}>
            {bytes === null ? (
              <span className="text-faint" title={path}>
                {nameIn(path)} (not in the folder)
              </span>
            ) : column.isPicture ? (
              <figure className="grid gap-1">
                <Picture
                  address={address}
                  record={record.key}
                  title={record.title}
                  column={column}
                  bytes={path}
                  place={place}
                  size={400}
                  version={record.version}
                />
                <figcaption>
                  <a className="link text-sm" href={href} download>
                    {nameIn(path)}
                  </a>
                </figcaption>
              </figure>
            ) : (
              <a className="link" href={href} download>
                {nameIn(path)} <span className="text-faint">({formatSize(bytes)})</span>
              </a>
            )}
          </li>
        );
      })}
    </ul>
  );
}
