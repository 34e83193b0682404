export { LooseEndsPage } from "./LooseEndsPage";
export { PanelSetupPage } from "./PanelSetupPage";
export { SourceFormPage } from "./SourceFormPage";
export { SourcePage } from "./SourcePage";
export { SourcesPage } from "./SourcesPage";
export { SurveyPage } from "./SurveyPage";
export { TablePage } from "./TablePage";
