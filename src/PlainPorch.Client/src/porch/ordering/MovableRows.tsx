import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
} from "@dnd-kit/core";
import { restrictToVerticalAxis } from "@dnd-kit/modifiers";
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from "@dnd-kit/sortable";
import type { ReactNode } from "react";
import type { MoveWish } from "./useMoves";

interface MovableRowsProps {
  /** The rows in their order: what each is told apart by, and called. */
  rows: { key: string | null; title: string }[];
  /** The chosen records, which move together with the one that is taken hold of. */
  chosen: ReadonlySet<string>;
  onMove: (wish: MoveWish) => void;
  children: ReactNode;
}

/** Lets the rows inside be dragged, or picked up by space, moved by the arrows and dropped by space. */
export function MovableRows({ rows, chosen, onMove, children }: MovableRowsProps) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const placeOf = (key: unknown) => rows.findIndex((row) => row.key === key);
  const titleOf = (key: unknown) => rows[placeOf(key)]?.title ?? "";
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const [key, target] = [String(active.id), String(over.id)];
    // In the order of the list; those on other pages come after.
    const together = [
      ...rows.flatMap((row) => (row.key !== null && chosen.has(row.key) ? row.key : [])),
      ...[...chosen].filter((one) => placeOf(one) < 0),
    ];
    const keys = chosen.has(key) ? together : [key];
    if (keys.includes(target)) return;
    onMove(placeOf(key) < placeOf(target) ? { keys, after: target } : { keys, before: target });
  };
  const announcements: Announcements = {
    onDragStart: ({ active }) =>
      `${titleOf(active.id)} was picked up, at place ${placeOf(active.id) + 1} of ${rows.length} on this page.`,
    onDragOver: ({ active, over }) =>
      over ? `${titleOf(active.id)} is now at place ${placeOf(over.id) + 1} of ${rows.length}.` : undefined,
    onDragEnd: ({ active, over }) =>
      over ? `${titleOf(active.id)} was dropped at place ${placeOf(over.id) + 1} of ${rows.length}.` : undefined,
    onDragCancel: ({ active }) => `${titleOf(active.id)} stays where it was.`,
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      modifiers={[restrictToVerticalAxis]}
      accessibility={{
        announcements,
        screenReaderInstructions: {
          draggable: "Press space to pick it up, the arrows to move it, space again to drop it, Escape to leave it.",
        },
      }}
      onDragEnd={onDragEnd}
    >
      <SortableContext items={rows.flatMap((row) => row.key ?? [])} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}
