/** The checks in spite of whose warning something was done. */
export function Despite({ checks }: { checks: string[] }) {
  if (checks.length === 0) return null;
  return <span className="text-danger"> · in spite of “{checks.join("”, “")}”</span>;
}
