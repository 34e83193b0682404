import type { Column } from "../../api/client";
import type { InputKind } from "../../values/input";

/** What is odd about what was typed, though it can be saved: old records hold all sorts of things. Null for nothing. */
export function oddTyping(column: Column, kind: InputKind, typed: string): string | null {
  const text = typed.trim();
  if (text === "") return null;
  if (column.input === "email" && !/^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(text))
    return "This does not look like an e-mail address, such as office@example.org.";
  if (column.input === "webAddress" && !/^(https?:\/\/)?[^\s/]+\.[^\s/.]{2,}(\/\S*)?$/i.test(text))
    return "This does not look like the address of a page, such as https://example.org.";
  if (column.input === "telephone" && !/\d.*\d.*\d/.test(text)) return "A telephone number has more figures.";
  if (kind === "json" && column.kind === "json") return jsonProblem(text);
  return null;
}

function jsonProblem(text: string): string | null {
  try {
    JSON.parse(text);
    return null;
  } catch (problem) {
    const at = /position (\d+)/.exec(String(problem))?.[1];
    // Not every browser tells the place.
    if (at === undefined) return "This is not JSON yet. Check quotes, commas and brackets.";
    const before = text.slice(0, Number(at));
    return `This is not JSON yet: see line ${before.split("\n").length}, character ${before.length - before.lastIndexOf("\n")}.`;
  }
}
