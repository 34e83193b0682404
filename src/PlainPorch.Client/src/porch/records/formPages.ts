export { AddTarget } from "./AddTarget";
export { EditPage, NewPage } from "./EditPage";
export { RecordPage } from "./RecordPage";
export { RecordSheet } from "./RecordSheet";
