import { useRef, useState } from "react";
import type { Column } from "../../api/client";
import { bareOf } from "../../api/bare";
import { dropOldTyping, keepTyping, readTyping, type KeptTyping } from "./keptTyping";
import type { RecordDraft } from "./useRecordDraft";
import { isOpen } from "../../values/input";
import { useWrittenSoon } from "./useWrittenSoon";

export interface TypingOffer {
  kept: KeptTyping;
  /** Whether the record was changed since it was typed. */
  isOverOlder: boolean;
  columns: Column[];
  take: () => void;
  discard: () => void;
}

/**
 * Keeps what is typed into a form on this computer, so that it survives a closed tab, an expired page or a computer that was
 * switched off, and offers it when the form is opened again. Secrets are not kept, and nothing is without a place.
 */
export function useKeptTyping(place: string | null, columns: Column[], draft: RecordDraft) {
  const [offered, setOffered] = useState(() => {
    dropOldTyping(new Date());
    return place === null ? null : readTyping(place);
  });
  const isOver = useRef(false);
  const open = columns.filter((column) => isOpen(column) && !column.isSecret);
  const typed = bareOf(
    open
      .filter(({ name }) => draft.touched.includes(name))
      .map((column) => [column.name, draft.typedOf(column)] as const),
  );
  const version = draft.base?.version ?? null;
  // As long as nobody has decided about what is offered, it stays beside what is typed now.
  const all = offered ? { ...offered.typed, ...typed } : typed;

  useWrittenSoon(JSON.stringify(all), (text) => {
    if (isOver.current || place === null) return;
    const now = JSON.parse(text) as Record<string, string>;
    const known = readTyping(place);
    if (known && JSON.stringify(known.typed) === text) return;
    keepTyping(place, Object.keys(now).length === 0 ? null : { at: new Date().toISOString(), version, typed: now });
  });

  const wanted =
    offered &&
    open.filter((column) => column.name in offered.typed && draft.typedOf(column) !== offered.typed[column.name]);
  const offer: TypingOffer | null =
    offered && wanted && wanted.length > 0
      ? {
          kept: offered,
          isOverOlder: version !== null && offered.version !== version,
          columns: wanted,
          take: () => {
            for (const column of wanted) draft.type(column, offered.typed[column.name] ?? "");
            setOffered(null);
          },
          discard: () => {
            setOffered(null);
          },
        }
      : null;
  return {
    offer,
    /** The typing so far is saved: of what comes it is kept again. */
    forget: () => {
      if (place !== null) keepTyping(place, null);
    },
    /** The typing is saved, or nobody wants it: nothing is kept any more. */
    drop: () => {
      isOver.current = true;
      if (place !== null) keepTyping(place, null);
    },
  };
}
