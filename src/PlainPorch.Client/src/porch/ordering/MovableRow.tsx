import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import type { ComponentProps } from "react";

interface MovableRowProps extends ComponentProps<"tr"> {
  id: string;
  title: string;
  /** Whether its handle is a stop for the tab key. */
  isActive: boolean;
}

/** A row with a handle, by which it is dragged or moved with the keyboard. */
export function MovableRow({ id, title, isActive, children, ...row }: MovableRowProps) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id,
  });
  return (
    <tr
      {...row}
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      data-dragging={isDragging || undefined}
    >
      <td className="w-8 bg-inherit p-0 text-center">
        <button
          type="button"
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          tabIndex={isActive ? 0 : -1}
          aria-label={`Move ${title}`}
          title="Drag it, or press space and move it with the arrows"
          className="min-h-8 w-full cursor-grab touch-none text-faint hover:text-ink focus-visible:-outline-offset-4"
          onClick={(event) => {
            event.stopPropagation();
          }}
        >
          ≡
        </button>
      </td>
      {children}
    </tr>
  );
}
