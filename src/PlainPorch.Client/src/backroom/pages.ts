export { CodePage } from "./code/CodePage";
export { LooseEndsPage } from "./looseEnds/LooseEndsPage";
export { PanelSetupPage } from "./panels/PanelSetupPage";
export { SourceFormPage } from "./sources/SourceFormPage";
export { SourcePage } from "./sources/SourcePage";
export { SourcesPage } from "./sources/SourcesPage";
export { SurveyPage } from "./survey/SurveyPage";
export { TablePage } from "./snapshots/TablePage";
