import { bareOf, type Bare } from "../../api/bare";

/** A record that is being entered as a line of a grid. */
export interface EntryLine {
  /** Tells it from the others; under it the line is saved once, however often it is sent. */
  id: string;
  /** The typed texts by column. */
  typed: Bare<string>;
  state: "open" | "saving" | "saved";
  /** What is wrong, by column; "" for the whole line. */
  errors: Bare<string>;
  /** How the saved record is called, and its key; null before. */
  saved: { key: string; title: string } | null;
}

export type EntryAct =
  | { act: "type"; id: string; column: string; text: string }
  | { act: "next"; newId: string }
  | { act: "fill"; id: string; columns: string[]; block: string[][]; newIds: string[] }
  | { act: "saving"; id: string }
  | { act: "saved"; id: string; saved: EntryLine["saved"] }
  | { act: "refused"; id: string; errors: Record<string, string> }
  | { act: "drop"; id: string }
  | { act: "put"; lines: EntryLine[] };

export const newLine = (id: string): EntryLine => ({
  id,
  typed: bareOf<string>([]),
  state: "open",
  errors: bareOf<string>([]),
  saved: null,
});

export const isTyped = (line: EntryLine) =>
  line.saved === null && Object.values(line.typed).some((text) => text.trim() !== "");

/** The lines after an act. The last one is always open and empty, to go on in. */
export function enter(lines: EntryLine[], act: EntryAct): EntryLine[] {
  switch (act.act) {
    case "type":
      return change(lines, act.id, (line) => ({
        ...line,
        typed: withText(line.typed, act.column, act.text),
        errors: bareOf(Object.entries(line.errors).filter(([column]) => column !== act.column && column !== "")),
      }));
    case "next":
      return isBlank(lines.at(-1)) ? lines : [...lines, newLine(act.newId)];
    case "fill":
      return fill(lines, act);
    case "saving":
      return change(lines, act.id, (line) => ({ ...line, state: "saving", errors: bareOf<string>([]) }));
    case "saved":
      return change(lines, act.id, (line) => ({ ...line, state: "saved", saved: act.saved }));
    case "refused":
      return change(lines, act.id, (line) => ({ ...line, state: "open", errors: bareOf(Object.entries(act.errors)) }));
    case "drop":
      return lines.filter((line) => line.id !== act.id);
    case "put":
      return act.lines;
  }
}

const isBlank = (line: EntryLine | undefined) => line?.state === "open" && !isTyped(line);

const change = (lines: EntryLine[], id: string, how: (line: EntryLine) => EntryLine) =>
  lines.map((line) => (line.id === id ? how(line) : line));

const withText = (typed: Bare<string>, column: string, text: string) =>
  bareOf([...Object.entries(typed).filter(([name]) => name !== column), [column, text] as const]);

/** Fills cells from one on, to the right and downwards; saved lines are stepped over, and lines are added where they end. */
function fill(lines: EntryLine[], { id, columns, block, newIds }: Extract<EntryAct, { act: "fill" }>): EntryLine[] {
  const from = lines.findIndex((line) => line.id === id);
  if (from < 0) return lines;
  const filled = [...lines];
  let at = from;
  for (const [i, row] of block.entries()) {
    while ((filled[at]?.state ?? "open") !== "open") at++;
    const line = filled[at] ?? newLine(newIds[i] ?? "");
    filled[at] = {
      ...line,
      errors: bareOf<string>([]),
      typed: bareOf([
        ...Object.entries(line.typed).filter(([name]) => !columns.slice(0, row.length).includes(name)),
        ...row.slice(0, columns.length).map((text, c) => [columns[c] ?? "", text] as const),
      ]),
    };
    at++;
  }
  return filled;
}

/**
 * Reads a block of cells as spreadsheets copy it: rows by line breaks, cells by tabs, and what holds one of these in quotation
 * marks, which are doubled within (as in RFC 4180).
 *
 * @returns The rows; null where it is one cell only, which is pasted as any text is.
 */
export function readBlock(text: string): string[][] | null {
  const rows: string[][] = [[]];
  let [cell, quoted] = ["", false];
  const end = () => {
    rows.at(-1)?.push(cell);
    cell = "";
  };
  const whole = text.replace(/\r\n?/g, "\n").replace(/\n$/, "");
  for (let i = 0; i < whole.length; i++) {
    const letter = whole[i] ?? "";
    if (quoted) {
      if (letter !== '"') cell += letter;
      else if (whole[i + 1] === '"') {
        cell += '"';
        i++;
      } else quoted = false;
    } else if (letter === '"' && cell === "" && closes(whole, i + 1)) quoted = true;
    else if (letter === "\t") end();
    else if (letter === "\n") {
      end();
      rows.push([]);
    } else cell += letter;
  }
  end();
  return rows.length === 1 && rows[0]?.length === 1 && !/[\t\n]/.test(whole) ? null : rows;
}

/** Whether a quotation mark that opens a cell is closed at the end of one: an inch sign is not. */
const closes = (text: string, from: number) => /^(?:[^"]|"")*"(?=\t|\n|$)/.test(text.slice(from));
