import { useEffect, useId, useRef } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { LEAST, useFind } from "./useFind";

interface FindBoxProps {
  porch: string;
  panels: Schemas["PanelSummary"][];
}

/** Finds a panel among many, or a record among those of all panels (the combobox pattern of the ARIA authoring practices). */
export function FindBox({ porch, panels }: FindBoxProps) {
  const listId = useId();
  const list = useRef<HTMLUListElement>(null);
  const navigate = useNavigate();
  const find = useFind(porch, panels, (path) => {
    // The list that opens takes the focus where nothing else has it.
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    void navigate(path);
  });
  const { found, at, isOpen, notSearched } = find;
  useEffect(() => {
    list.current?.children.item(at)?.scrollIntoView({ block: "nearest" });
  }, [at]);
  return (
    <div
      className="relative flex-1 lg:mb-2"
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) find.close();
      }}
    >
      <input
        type="search"
        role="combobox"
        aria-label="Find a panel or a record"
        aria-expanded={isOpen}
        aria-controls={listId}
        aria-autocomplete="list"
        aria-activedescendant={isOpen && found.length > 0 ? `${listId}-${at}` : undefined}
        placeholder="Find anything"
        accessKey="p"
        title="Alt + P"
        autoComplete="off"
        value={find.typed}
        maxLength={100}
        onChange={(event) => {
          find.type(event.target.value);
        }}
        onKeyDown={find.onKeyDown}
        className="min-h-9 w-full rounded border border-edge bg-sheet px-2 placeholder:text-faint lg:min-h-8"
      />
      {isOpen && (
        <div
          tabIndex={-1}
          className="absolute z-20 mt-1 max-h-[70dvh] w-[calc(100vw-2rem)] overflow-y-auto rounded border border-edge bg-sheet py-1 shadow-lg lg:w-md"
        >
          <ul ref={list} id={listId} role="listbox" aria-label="Found">
            {found.map(({ path, title, beside }, index) => (
              <li
                key={path}
                id={`${listId}-${index}`}
                role="option"
                aria-selected={index === at}
                className="flex cursor-pointer items-baseline gap-3 px-3 py-1 hover:bg-tint aria-selected:bg-accent-tint"
                onMouseDown={(event) => {
                  event.preventDefault();
                  find.go(path);
                }}
              >
                <span className="min-w-0 truncate">{title}</span>
                <span className="ml-auto shrink-0 text-sm text-faint">{beside}</span>
              </li>
            ))}
          </ul>
          <p role="status" className="px-3 text-sm text-faint empty:hidden">
            {find.error
              ? find.error.message
              : find.isLooking
                ? "Searching …"
                : find.typed.trim().length < LEAST
                  ? "Type more to search records too."
                  : found.length === 0
                    ? "Nothing found."
                    : ""}
            {notSearched.length > 0 &&
              ` Too large to be searched from here; search in their own lists: ${notSearched.slice(0, 6).join(", ")}${notSearched.length > 6 ? " and more" : ""}.`}
          </p>
        </div>
      )}
    </div>
  );
}
