import type { Schemas } from "../../api/client";

const words: Record<Schemas["ImportState"], string> = {
  looking: "being looked at",
  ready: "waits for you",
  planning: "being planned",
  running: "being brought in",
  done: "brought in",
  stopped: "cancelled",
  failed: "not brought in",
  takenBack: "taken back",
};

/** How an import stands, in words. */
export function stateWords(state: Schemas["ImportState"]): string {
  return words[state];
}
