/** The addresses of the porch's pages, and of those of the back room that several lead to. */

export const panelPath = (porch: string, panel: string) => `/porch/${porch}/${panel}`;

/** The records of a panel of which an expression comes to false. */
export const brokenPath = (porch: string, panel: string, breaks: string) =>
  `${panelPath(porch, panel)}?${new URLSearchParams({ breaks }).toString()}`;

export const setAsidePath = (porch: string, panel: string) => `${panelPath(porch, panel)}/set-aside`;

/** Where the values of a panel's column are tidied; of any column where none is named. */
export const tidyPath = (porch: string, panel: string, column?: string) =>
  `${panelPath(porch, panel)}/tidy${column === undefined ? "" : `?${new URLSearchParams({ column }).toString()}`}`;

/** Where several records are added one below the other. */
export const severalPath = (porch: string, panel: string) => `${panelPath(porch, panel)}/several`;

/** Where a file is brought into a panel. */
export const importPath = (porch: string, panel: string, id?: string) =>
  `${panelPath(porch, panel)}/import${id === undefined ? "" : `/${id}`}`;

/** Where files are brought into new tables of a source. */
export const tableImportPath = (source: number, id?: string) =>
  `/back/sources/${source}/imports${id === undefined ? "" : `/${id}`}`;

export const recordPath = (porch: string, panel: string, key: string) =>
  `${panelPath(porch, panel)}/record/${encodeURIComponent(key)}`;

/** Where all is told that the database declares about a table. */
export const tablePath = (source: number, { schema, name }: { schema: string; name: string }) =>
  `/back/sources/${source}/table?${new URLSearchParams({ schema, name }).toString()}`;
