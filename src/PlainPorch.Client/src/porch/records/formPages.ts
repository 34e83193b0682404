export { EditPage, NewPage } from "./EditPage";
export { RecordPage } from "./RecordPage";
