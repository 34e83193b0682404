import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { formatMoment } from "../../values/format";
import type { TypingOffer } from "./useKeptTyping";

const LONG = 60;

/** Offers what was typed here before and never saved. */
export function TypingNotice({ offer }: { offer: TypingOffer }) {
  const { kept, columns, isOverOlder } = offer;
  return (
    <Notice
      title={`You typed here and did not save (${formatMoment(kept.at)}).`}
      actions={
        <>
          <Button onClick={offer.take}>Put it back</Button>
          <Button onClick={offer.discard}>Discard it</Button>
        </>
      }
    >
      <ul>
        {columns.map((column) => (
          <li key={column.name} className="break-words">
            {column.label}: {column.mostBytes ? "a file that was chosen" : shown(kept.typed[column.name] ?? "")}
          </li>
        ))}
      </ul>
      {isOverOlder && <p className="mt-1">The record was changed since. Compare before you save.</p>}
    </Notice>
  );
}

const shown = (text: string) =>
  text === "" ? "emptied" : text.length > LONG ? `“${text.slice(0, LONG)}…”` : `“${text}”`;
