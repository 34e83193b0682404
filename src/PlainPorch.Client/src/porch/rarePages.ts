export { LogPage } from "./history/LogPage";
export { DuplicatesPage } from "./DuplicatesPage";
export { SetAsidePage } from "./removal/SetAsidePage";
