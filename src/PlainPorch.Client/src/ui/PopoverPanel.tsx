import { Popover } from "radix-ui";
import type { ReactNode } from "react";

interface PopoverPanelProps {
  /** What the panel is called for whoever cannot see where it belongs. */
  label: string;
  /** The button that opens it. */
  trigger: ReactNode;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  align?: "start" | "end";
  className?: string;
  children: ReactNode;
}

/** Something to choose or fill in, right beside the button that it belongs to. */
export function PopoverPanel({ label, trigger, align = "end", className = "", ...props }: PopoverPanelProps) {
  const { isOpen, onOpenChange, children } = props;
  return (
    <Popover.Root open={isOpen} onOpenChange={onOpenChange}>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align={align}
          sideOffset={4}
          collisionPadding={8}
          aria-label={label}
          className={`z-20 max-h-(--radix-popover-content-available-height) max-w-[calc(100vw-1rem)] overflow-y-auto rounded border border-edge bg-sheet shadow-lg ${className}`}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
