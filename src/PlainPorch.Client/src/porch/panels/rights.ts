import type { Panel, Schemas } from "../../api/client";

/** Whether somebody may do something with a panel's records; whether panel and database allow it is another question. */
export const may = (panel: Panel, act: Schemas["PanelActs"]) => panel.may.includes(act);
