import type { Panel, Schemas } from "../../api/client";
import { formatCount } from "../../values/format";

/** What removing is called. */
export function verbOf(manner: Schemas["RemovalManner"]): string {
  return manner === "erase" ? "Erase" : "Set aside";
}

/** So many records of a panel. */
export function countOf(panel: Panel, count: number): string {
  return count === 1 ? `this ${panel.recordLabel}` : `${formatCount(count)} records of ${panel.label}`;
}

/** What a removal is about: the record by its name, or how many there are. */
export function nameOf(panel: Panel, proposal: Schemas["RemovalProposal"]): string {
  const only = proposal.records[0];
  return proposal.chosen === 1 && only ? `${panel.recordLabel} “${only.title}”` : countOf(panel, proposal.chosen);
}

/** Whether records were removed, and not only changed with the removal. */
export function isRemoved(act: Schemas["PartAct"]): boolean {
  return act === "marked" || act === "moved";
}

/** So many records of one sort. */
export function someOf(count: number, label: string): string {
  return `${label}: ${formatCount(count)}`;
}
