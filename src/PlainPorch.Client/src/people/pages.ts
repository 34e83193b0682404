export { AccountPage } from "./AccountPage";
export { PeoplePage } from "./PeoplePage";
