/** The addresses of the porch's pages. */

export const panelPath = (porch: string, panel: string) => `/porch/${porch}/${panel}`;

export const setAsidePath = (porch: string, panel: string) => `${panelPath(porch, panel)}/set-aside`;

export const recordPath = (porch: string, panel: string, key: string) =>
  `${panelPath(porch, panel)}/record/${encodeURIComponent(key)}`;
