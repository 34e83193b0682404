import { useState } from "react";

interface FileDropAreaProps {
  onTake: (files: Iterable<File>) => void;
  /** Whether what is in it stands one below the other. */
  isColumn?: boolean;
  children: React.ReactNode;
}

/** A place in a form onto which files are dropped or pasted. */
export function FileDropArea({ onTake, isColumn = false, children }: FileDropAreaProps) {
  const [isOver, setOver] = useState(false);
  return (
    <div
      className={`${isColumn ? "grid" : "flex flex-wrap items-center"} gap-3 rounded border p-2 ${isOver ? "border-accent bg-accent-tint" : "border-edge bg-sheet"}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => {
        setOver(false);
      }}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        onTake(event.dataTransfer.files);
      }}
      onPaste={(event) => {
        if (event.clipboardData.files.length === 0) return;
        event.preventDefault();
        onTake(event.clipboardData.files);
      }}
    >
      {children}
    </div>
  );
}
