import { describe, expect, it } from "vitest";
import type { Column, Schemas } from "../../api/client";
import { sectionsOf } from "../records/formSections";
import { findPanels, panelGroups } from "./panelGroups";

describe("panelGroups", () => {
  it("puts panels under their headings in the order of the menu, and leaves hidden ones out", () => {
    const panel = (slug: string, group: string, isHidden = false) =>
      ({ slug, group, isHidden }) as Schemas["PanelSummary"];
    const groups = panelGroups([
      panel("boats", "Register"),
      panel("codes", "Lists"),
      panel("owners", "Register"),
      panel("log", "", true),
    ]);
    expect(groups.map(({ name, panels }) => [name, panels.map(({ slug }) => slug)])).toEqual([
      ["Register", ["boats", "owners"]],
      ["Lists", ["codes"]],
    ]);
  });
});

describe("findPanels", () => {
  const panel = (label: string, group = "", isHidden = false) =>
    ({ slug: label.toLowerCase(), label, group, isHidden }) as Schemas["PanelSummary"];
  const panels = [panel("House boats", "Register"), panel("Boats", "Register"), panel("Boat kit", "Lists", true)];

  it.each([
    ["", ["House boats", "Boats", "Boat kit"]],
    ["boat", ["Boats", "Boat kit", "House boats"]],
    ["REG boats", ["House boats", "Boats"]],
    ["lorry", []],
  ])("finds for %j %j", (wanted, found) => {
    expect(findPanels(panels, wanted).map(({ label }) => label)).toEqual(found);
  });

  it("finds what the menu leaves out", () => {
    expect(panelGroups(findPanels(panels, "kit")).length).toBe(1);
  });
});

describe("sectionsOf", () => {
  it("keeps the columns of a section together where its first one stands", () => {
    const column = (name: string, section: string) => ({ name, section }) as Column;
    const sections = sectionsOf([column("A", ""), column("B", "Hull"), column("C", ""), column("D", "Hull")]);
    expect(sections.map(({ section, columns }) => [section, columns.map(({ name }) => name)])).toEqual([
      ["", ["A", "C"]],
      ["Hull", ["B", "D"]],
    ]);
  });
});
