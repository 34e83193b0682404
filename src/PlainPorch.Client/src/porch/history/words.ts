import type { Schemas } from "../../api/client";

type Act = Schemas["LogAct"];

const words: Record<Act, string> = {
  added: "Added",
  changed: "Changed",
  changedTogether: "Changed together with others",
  tidied: "Tidied",
  setAside: "Set aside",
  detached: "Reference emptied",
  broughtBack: "Brought back",
  erased: "Erased",
  moved: "Moved",
  merged: "Merged",
  imported: "Imported",
  takenBack: "Import taken back",
};

/** What was done, in a word. */
export function actWord(act: Act): string {
  return words[act];
}

/** All acts, to choose among. */
export const acts = Object.keys(words) as Act[];
