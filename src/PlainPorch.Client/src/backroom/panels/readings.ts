import type { PanelColumn, Schemas } from "../../api/client";

export type Reading = NonNullable<PanelColumn["reading"]>;

/** The kind of a reading, by its name in JSON. */
export function kindOf(reading: Reading): string {
  return reading.kind ?? "";
}

/** A setting of a reading. */
export function settingOf(reading: Reading, name: string): unknown {
  return (reading as unknown as Record<string, unknown>)[name];
}

/** A reading with one setting changed. */
export function withSetting(reading: Reading, name: string, value: unknown): Reading {
  return { ...reading, [name]: value };
}

/** Whether a reading says enough to be saved: what is still blank would be refused. */
export function readingFor(reading: Reading): boolean {
  switch (reading.kind) {
    case "words":
      return (
        reading.words.length > 0 &&
        reading.words.every(({ stored, word }) => stored.trim() !== "" && word.trim() !== "")
      );
    case "yesNo":
      return reading.yes.trim() !== "" && reading.yes !== reading.no;
    case "day":
    case "month":
    case "time":
    case "moment":
      return reading.pattern.trim() !== "";
    default:
      return true;
  }
}

/** Texts parted by commas, as they are typed in one line. */
export function splitTexts(typed: string): string[] {
  return typed
    .split(",")
    .map((text) => text.trim())
    .filter((text) => text !== "");
}

/** Lines of the form “value = words”, as a list of values is typed. */
export function splitWords(typed: string): Schemas["WordFor"][] {
  return typed
    .split("\n")
    .map((line) => line.split("="))
    .filter(([stored]) => (stored ?? "").trim() !== "")
    .map(([stored = "", ...word]) => ({ stored: stored.trim(), word: word.join("=").trim() || stored.trim() }));
}

/** A list of values as it is typed. */
export function joinWords(words: Schemas["WordFor"][]): string {
  return words.map(({ stored, word }) => `${stored} = ${word}`).join("\n");
}

/** What a list of values and words may begin with: the values themselves, or the parts that several are made of. */
export function codesFor(reading: Reading, samples: string[]): string[] {
  switch (reading.kind) {
    case "places":
      return ["1", "2", "3"];
    case "bits":
      return ["1", "2", "4"];
    case "list": {
      const { sign, width = 0 } = reading;
      const parts = samples.flatMap((sample) =>
        sign ? sample.split(sign) : width > 0 ? (sample.match(new RegExp(`.{1,${width}}`, "gs")) ?? []) : [sample],
      );
      return [...new Set(parts.map((part) => part.trim()).filter((part) => part !== ""))];
    }
    default:
      return samples;
  }
}
