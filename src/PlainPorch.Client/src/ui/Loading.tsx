/** Shown only when waiting lasts: a quick answer should not flicker. */
export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="loading-late py-6 text-faint">
      Reading {what} …
    </p>
  );
}
