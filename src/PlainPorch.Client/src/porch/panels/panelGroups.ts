import type { Schemas } from "../../api/client";

type PanelSummary = Schemas["PanelSummary"];

export interface PanelGroup {
  name: string;
  panels: PanelSummary[];
}

/** The panels of a porch's menu under their headings; what is reached from other records only is left out. */
export function panelGroups(panels: PanelSummary[]): PanelGroup[] {
  const groups: PanelGroup[] = [];
  for (const panel of panels.filter((item) => !item.isHidden)) {
    const group = groups.find((known) => known.name === panel.group);
    if (group) group.panels.push(panel);
    else groups.push({ name: panel.group, panels: [panel] });
  }
  return groups;
}

/** The panels whose name or heading holds all words that somebody typed, those that begin with it first. */
export function findPanels(panels: PanelSummary[], wanted: string): PanelSummary[] {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return panels;
  const found = panels.filter((panel) =>
    words.every((word) => `${panel.label} ${panel.group} ${panel.slug}`.toLowerCase().includes(word)),
  );
  const begins = (panel: PanelSummary) => panel.label.toLowerCase().startsWith(words[0] ?? "");
  // One that the menu leaves out is found all the same.
  return found
    .map((panel) => ({ ...panel, isHidden: false }))
    .sort((one, other) => Number(begins(other)) - Number(begins(one)));
}
