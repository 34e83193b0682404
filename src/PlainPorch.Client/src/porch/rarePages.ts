export { LogPage } from "./history/LogPage";
export { DuplicatesPage } from "./duplicates/DuplicatesPage";
export { SetAsidePage } from "./removal/SetAsidePage";
