export { EntryPage } from "./entry/EntryPage";
export { LogPage } from "./history/LogPage";
export { TidyPage } from "./tidying/TidyPage";
export { DuplicatesPage } from "./duplicates/DuplicatesPage";
export { SetAsidePage } from "./removal/SetAsidePage";
export { PanelImportPage } from "./imports/PanelImportPage";
