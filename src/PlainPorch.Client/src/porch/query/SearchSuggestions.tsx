import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { suggestionsQuery, type PanelAddress } from "../../api/queries";
import { useSettled } from "../../ui/useSettled";

interface SearchSuggestionsProps {
  address: PanelAddress;
  /** What is typed so far. */
  typed: string;
  onTake: (text: string) => void;
}

const PAUSE_MS = 150;

/** Fields and values that would complete what is being typed; the tab key goes to them, so that arrow down stays free for the list. */
export function SearchSuggestions({ address, typed, onTake }: SearchSuggestionsProps) {
  const settled = useSettled(typed, PAUSE_MS);
  const found = useQuery({
    ...suggestionsQuery(address, settled),
    enabled: settled.trim() !== "",
    placeholderData: keepPreviousData,
  });
  // What completes an older text would take back what was typed since.
  const isFresh = settled === typed && !found.isPlaceholderData;
  if (typed.trim() === "" || !found.data || found.data.length === 0) return null;
  return (
    <div
      role="group"
      data-suggestions
      aria-label="Suggestions"
      // Above the box: below it are the buttons that narrow the list, which must neither move nor be covered while somebody types.
      className="absolute bottom-full left-0 z-10 mb-1 hidden w-max max-w-[min(60rem,calc(100vw-2rem))] items-center gap-1 overflow-hidden rounded border border-edge bg-sheet p-1 text-sm shadow-lg group-focus-within:flex"
    >
      {found.data.map((one) => (
        <button
          key={one.text}
          type="button"
          disabled={!isFresh}
          onClick={() => {
            onTake(one.text);
          }}
          className="min-h-8 max-w-64 truncate rounded bg-paper px-2 hover:bg-tint disabled:opacity-60"
        >
          {one.label}
        </button>
      ))}
    </div>
  );
}
