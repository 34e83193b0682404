/** How long a step still takes, judged by how long it took so far; null where that cannot be told. */
export function timeLeft(done: number, total: number, seconds: number): string | null {
  if (total <= 0 || done <= 0 || done >= total || seconds < 2) return null;
  const left = (seconds / done) * (total - done);
  if (left < 10) return "a few seconds left";
  if (left < 90) return `about ${Math.round(left / 10) * 10} seconds left`;
  if (left < 90 * 60) return `about ${Math.round(left / 60)} minutes left`;
  return `about ${Math.round(left / 3600)} hours left`;
}
