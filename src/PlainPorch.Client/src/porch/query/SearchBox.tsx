import { useEffect, useEffectEvent, useRef, useState, type KeyboardEvent, type Ref } from "react";
import type { PanelAddress } from "../../api/queries";
import { SearchSuggestions } from "./SearchSuggestions";

interface SearchBoxProps {
  value: string;
  onSearch: (text: string) => void;
  onLeaveDown: () => void;
  label: string;
  address: PanelAddress;
  ref?: Ref<HTMLInputElement>;
}

const PAUSE_MS = 200;

/**
 * Searches while one types, after a short pause. Escape closes the suggestions first, and then takes back what was typed since one came
 * here, never a search that was there before; arrow down goes to the list.
 */
export function SearchBox({ value, onSearch, onLeaveDown, label, address, ref }: SearchBoxProps) {
  const [typed, setTyped] = useState(value);
  const [known, setKnown] = useState(value);
  // What stood here before somebody typed, and the text of which the suggestions were closed.
  const [before, setBefore] = useState(value);
  const [dismissed, setDismissed] = useState<string | null>(null);
  const box = useRef<HTMLDivElement>(null);

  // What was searched for and has not come back in the address yet, while more is typed.
  const [underway, setUnderway] = useState<readonly string[]>([]);

  // The address changed by other means (back, a link): follow it.
  if (known !== value) {
    setKnown(value);
    setUnderway(underway.slice(underway.indexOf(value) + 1));
    if (value !== typed.trim() && !underway.includes(value)) setTyped(value);
  }

  const search = (text: string) => {
    if (text === value) return;
    setUnderway([...underway, text]);
    onSearch(text);
  };
  const send = useEffectEvent(search);
  useEffect(() => {
    const timer = setTimeout(() => {
      send(typed.trim());
    }, PAUSE_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [typed]);

  const onKeyDown = (event: KeyboardEvent) => {
    // A browser's own way of emptying a search box would take what stood here, too.
    if (event.key === "Escape") event.preventDefault();
    if (event.key === "Escape" && dismissed !== typed && box.current?.querySelector("[data-suggestions]")) {
      setDismissed(typed);
      event.stopPropagation();
    } else if (event.key === "Escape" && typed !== before) {
      setTyped(before);
      event.stopPropagation();
    } else if (event.key === "ArrowDown" || event.key === "Enter") {
      event.preventDefault();
      if (typed.trim() !== value) search(typed.trim());
      else onLeaveDown();
    }
  };

  return (
    <div ref={box} className="group relative w-full max-w-96 min-w-40">
      <input
        ref={ref}
        type="search"
        aria-label={label}
        placeholder={label}
        value={typed}
        maxLength={200}
        onChange={(event) => {
          setTyped(event.target.value);
        }}
        onFocus={() => {
          setBefore(typed);
        }}
        onKeyDown={onKeyDown}
        className="min-h-9 w-full rounded border border-edge bg-sheet px-3 py-1.5 placeholder:text-faint"
      />
      {dismissed !== typed && (
        <SearchSuggestions
          address={address}
          typed={typed}
          onTake={(text) => {
            setTyped(text);
            box.current?.querySelector("input")?.focus();
          }}
        />
      )}
    </div>
  );
}
