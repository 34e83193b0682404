/** The look of every dialog: overlay and sheet. */
export const overlayClass = "fixed inset-0 z-20 bg-ink/40";

export const sheetClass =
  "fixed top-1/2 left-1/2 z-30 max-h-[90dvh] w-[min(36rem,calc(100vw-2rem))] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-md border border-line bg-sheet p-5 shadow-xl";
