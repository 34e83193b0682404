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
