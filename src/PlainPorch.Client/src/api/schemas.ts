import type { components } from "./schema";

/** The types that the API describes. */
export type Schemas = components["schemas"];
