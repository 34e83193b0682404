import { bareOf } from "../../api/bare";
import { own } from "../../api/whose";

/** What was typed into a record's form and not saved, as this computer keeps it. */
export interface KeptTyping {
  /** When it was typed last, as an ISO moment. */
  at: string;
  /** The version of the record that it was typed over; null for a new one. */
  version: number | null;
  /** The typed texts by column. */
  typed: Record<string, string>;
}

const PREFIX = "plain-porch typing ";
const DAYS = 30;
// All of it has to find room beside what else the browser keeps for the site.
const MOST_LETTERS = 200_000;

/** Where the typing of a record is kept; of a new one where its key would be null. */
export const typingPlace = (porch: string, panel: string, key: string | null) =>
  own(`${PREFIX}${porch}/${panel}/${key === null ? "new" : `record/${key}`}`);

/** What is kept at a place; null where nothing is, or what is there cannot be read. */
export function readTyping(place: string): KeptTyping | null {
  try {
    const kept = JSON.parse(localStorage.getItem(place) ?? "null") as Partial<KeptTyping> | null;
    if (kept === null || typeof kept.at !== "string" || typeof kept.typed !== "object") return null;
    const typed = bareOf(Object.entries(kept.typed).filter((pair) => typeof pair[1] === "string"));
    return Object.keys(typed).length === 0 ? null : { at: kept.at, version: kept.version ?? null, typed };
  } catch {
    return null;
  }
}

/** Keeps typing, or throws it away where there is none. */
export function keepTyping(place: string, kept: KeptTyping | null) {
  try {
    const text = kept && JSON.stringify(kept);
    if (text === null || text.length > MOST_LETTERS) localStorage.removeItem(place);
    else localStorage.setItem(place, text);
  } catch {
    // Without room, or where the browser keeps nothing, the form itself still asks before it is left.
  }
}

/** Throws away what nobody came back for. */
export function dropOldTyping(now: Date) {
  const oldest = now.getTime() - DAYS * 86_400_000;
  for (const place of Object.keys(localStorage).filter((name) => name.startsWith(PREFIX))) {
    const kept = readTyping(place);
    if (kept === null || !(Date.parse(kept.at) >= oldest)) localStorage.removeItem(place);
  }
}
