import type { Panel, Schemas } from "../../api/client";
import { formatValue } from "../../values/format";

interface ChangesProps {
  panel: Pick<Panel, "columns" | "secrets"> | undefined;
  changes: Schemas["ValueChange"][];
}

/** What changed, value by value, from what to what. */
export function Changes({ panel, changes }: ChangesProps) {
  return (
    <dl className="text-[15px]">
      {changes.map((change) => {
        const column =
          panel?.columns.find((one) => one.name === change.column) ??
          panel?.secrets.find((one) => one.name === change.column);
        const show = (text: string | null) =>
          text === null || text === "" ? (
            <span className="text-faint">empty</span>
          ) : column ? (
            formatValue(column, text)
          ) : (
            text
          );
        return (
          <div key={change.column} className="grid gap-x-4 py-0.5 sm:grid-cols-[11rem_1fr]">
            <dt className="text-faint">{column?.label ?? change.column}</dt>
            <dd className="min-w-0 break-words">
              {change.isHidden ? (
                <span className="text-faint">changed; its values are not recorded</span>
              ) : (
                <>
                  <del className="text-faint decoration-1">{show(change.from)}</del> <span aria-hidden>→</span>{" "}
                  <span className="sr-only">became</span>
                  <ins className="no-underline">{show(change.to)}</ins>
                </>
              )}
            </dd>
          </div>
        );
      })}
    </dl>
  );
}
