import type { Box } from "./pictureLayout";

/** The path of a straight line from box to box. */
export function between(a: Box, b: Box): string {
  const [ax, ay, bx, by] = [a.x + a.width / 2, a.y + a.height / 2, b.x + b.width / 2, b.y + b.height / 2];
  const end = edgePoint(b, ax - bx, ay - by);
  const start = edgePoint(a, bx - ax, by - ay);
  return `M${start.x} ${start.y}L${end.x} ${end.y}`;
}

/** Where a line from a box's middle leaves it. */
function edgePoint(box: Box, dx: number, dy: number): { x: number; y: number } {
  const scale = Math.min(box.width / 2 / Math.max(1, Math.abs(dx)), box.height / 2 / Math.max(1, Math.abs(dy)));
  return { x: box.x + box.width / 2 + dx * scale, y: box.y + box.height / 2 + dy * scale };
}

/** The path of a line from a box to itself. */
export function loop(box: Box): string {
  const [x, y] = [box.x + box.width, box.y + box.height / 2];
  return `M${x} ${y - 8}C${x + 26} ${y - 22} ${x + 26} ${y + 22} ${x} ${y + 8}`;
}
