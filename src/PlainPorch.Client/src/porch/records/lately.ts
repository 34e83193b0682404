import { own } from "../../api/whose";

const PREFIX = "plain-porch lately ";
const MOST = 5;

const place = (porch: string, panel: string, column: string) => own(`${PREFIX}${porch}/${panel}/${column}`);

/** What was chosen of late in a lookup on this computer, the latest first. */
export function chosenLately(porch: string, panel: string, column: string): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(place(porch, panel, column)) ?? "[]");
    return Array.isArray(kept) ? kept.filter((value) => typeof value === "string").slice(0, MOST) : [];
  } catch {
    return [];
  }
}

/** Remembers what was chosen in a lookup. */
export function rememberChosen(porch: string, panel: string, column: string, value: string) {
  const rest = chosenLately(porch, panel, column).filter((known) => known !== value);
  try {
    localStorage.setItem(place(porch, panel, column), JSON.stringify([value, ...rest].slice(0, MOST)));
  } catch {
    // Without room for it the list begins as it does for everybody.
  }
}
