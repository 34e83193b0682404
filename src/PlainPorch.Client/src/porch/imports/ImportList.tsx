import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { formatMoment } from "../../values/format";
import { stateWords } from "./stateWords";

interface ImportListProps {
  imports: Schemas["ImportStatus"][];
  pathOf: (id: string) => string;
}

/** Imports that were begun before. */
export function ImportList({ imports, pathOf }: ImportListProps) {
  // One without a file was given up before it began.
  const shown = imports.filter((one) => one.files.length > 0 || one.state !== "ready");
  if (shown.length === 0) return null;
  return (
    <section className="grid gap-1">
      <h2 className="text-lg font-semibold">Earlier ones</h2>
      <ul className="border-t border-line">
        {shown.map((one) => (
          <li key={one.id} className="flex flex-wrap items-baseline gap-x-4 border-b border-line py-1.5">
            <Link className="link" to={pathOf(one.id)}>
              {one.files.map((file) => file.name).join(", ") || "A file"}
            </Link>
            <span>{stateWords(one.state)}</span>
            <span className="text-sm text-faint">
              {one.who}, {formatMoment(one.at)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
