import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState, type KeyboardEvent } from "react";
import type { Schemas } from "../../api/client";
import { findQuery } from "../../api/queries";
import { panelPath, recordPath } from "../../paths";
import { useSettled } from "../../ui/useSettled";
import { findPanels } from "./panelGroups";

type PanelSummary = Schemas["PanelSummary"];
type Findings = Schemas["PorchFindings"];

/** Something that was found: a panel, a record, or the rest of what a panel's own search finds. */
export interface Found {
  path: string;
  title: string;
  /** What stands beside it: of a record, its panel. */
  beside: string;
}

/** A shorter text would be found nearly everywhere. */
export const LEAST = 2;

const PAUSE_MS = 200;
const MOST_PANELS = 8;

/** What a text finds in a porch: panels by their names, which is known at once, then records of all panels. */
export function foundFor(porch: string, panels: PanelSummary[], text: string, records: Findings | undefined): Found[] {
  if (text === "") return [];
  const ofPanels = findPanels(panels, text)
    .slice(0, MOST_PANELS)
    .map(({ slug, label }) => ({ path: panelPath(porch, slug), title: label, beside: "panel" }));
  const ofRecords = (records?.panels ?? []).flatMap(({ panel, label, records: found, hasMore }) => [
    ...found.map(({ key, title }) => ({ path: recordPath(porch, panel, key), title, beside: label })),
    ...(hasMore
      ? [{ path: `${panelPath(porch, panel)}?q=${encodeURIComponent(text)}`, title: `All in ${label}`, beside: "" }]
      : []),
  ]);
  return [...ofPanels, ...ofRecords];
}

/** A box that finds panels and records: what was typed, what it finds, and what the keys do. */
export function useFind(porch: string, panels: PanelSummary[], onGo: (path: string) => void) {
  const [typed, setTyped] = useState("");
  const [active, setActive] = useState(0);
  const [isOpen, setOpen] = useState(false);
  const client = useQueryClient();
  const latest = useRef("");
  const text = typed.trim();
  const settled = useSettled(text, PAUSE_MS);
  const records = useQuery({ ...findQuery(porch, settled), enabled: settled.length >= LEAST });
  const isFresh = settled === text && !records.isFetching;
  // What an earlier text found is not offered: Enter would go there.
  const found = foundFor(porch, panels, text, text.length >= LEAST && isFresh ? records.data : undefined);
  const at = Math.min(active, found.length - 1);

  const close = () => {
    setOpen(false);
    setTyped("");
    setActive(0);
    latest.current = "";
  };
  const go = (path: string) => {
    close();
    onGo(path);
  };
  // Whoever types and presses Enter at once goes to what is found, as soon as it is.
  const goWhenFound = async () => {
    const wanted = text;
    try {
      const [first] = foundFor(porch, [], wanted, await client.query(findQuery(porch, wanted)));
      if (first && latest.current === wanted) go(first.path);
    } catch {
      // What went wrong is told below the box.
    }
  };

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      setActive(Math.max(0, Math.min(found.length - 1, at + (event.key === "ArrowDown" ? 1 : -1))));
    } else if (event.key === "Enter") {
      event.preventDefault();
      const one = found[at];
      if (one) go(one.path);
      else if (text.length >= LEAST) void goWhenFound();
    } else if (event.key === "Escape" && (isOpen || typed !== "")) {
      event.preventDefault();
      close();
    }
  };

  return {
    typed,
    found,
    at,
    isOpen: isOpen && text !== "",
    isFresh,
    isLooking: text.length >= LEAST && !isFresh && !records.isError,
    error: records.error,
    notSearched: text.length >= LEAST && isFresh ? (records.data?.notSearched ?? []) : [],
    type: (next: string) => {
      setTyped(next);
      setActive(0);
      setOpen(true);
      latest.current = next.trim();
    },
    go,
    close,
    onKeyDown,
  };
}
