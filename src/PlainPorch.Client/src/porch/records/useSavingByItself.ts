import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { RecordView } from "../../api/client";
import { newOnceKey } from "../../api/acts";
import { ApiError } from "../../api/problems";
import { bareOf } from "../../api/bare";
import { useSettled } from "../../ui/useSettled";
import type { RecordDraft } from "./useRecordDraft";

const PAUSE_MS = 900;
const AGAIN_MS = 5_000;

interface Attempt {
  base: RecordView;
  changes: Record<string, string | null>;
  /** The changes as text, which tells them from others. */
  text: string;
  key: string;
  typed: ReadonlyMap<string, string>;
}

interface SavingOptions {
  isOn: boolean;
  draft: RecordDraft;
  /** Whether what is typed can be saved as it is: nothing is half a date, and no lookup is still looked for. */
  isReady: () => boolean;
  /** Saves; under one key once, however often it is sent. */
  write: (base: RecordView, changes: Record<string, string | null>, key: string) => Promise<RecordView | undefined>;
  onSaved: (saved: RecordView) => void;
}

/**
 * Saves what is changed in a record's form a moment after the last key, or when its field is left. What is refused stays as it was
 * typed, and is sent again once it is typed otherwise.
 */
export function useSavingByItself({ isOn, draft, isReady, write, onSaved }: SavingOptions) {
  const text = JSON.stringify(draft.changes);
  const settled = useSettled(text, PAUSE_MS);
  const tried = useRef("{}");
  const [left, setLeft] = useState("");
  const [, setTries] = useState(0);
  const sending = useRef<Promise<unknown> | null>(null);
  const save = useMutation({
    mutationFn: ({ base, changes, key }: Attempt) => write(base, changes, key),
    onSuccess: (saved, { typed }) => {
      if (!saved) return;
      draft.settle(saved, typed);
      onSaved(saved);
    },
  });

  useEffect(() => {
    if (!isOn || draft.base === null || sending.current !== null || text === "{}") return;
    if ((settled !== text && left !== text) || tried.current === text || !isReady()) return;
    tried.current = text;
    const isUnsure = save.error !== null && !(save.error instanceof ApiError);
    const key = isUnsure && save.variables.text === text ? save.variables.key : newOnceKey();
    sending.current = save
      .mutateAsync({ base: draft.base, changes: draft.changes, text, key, typed: draft.typed })
      .then(
        () => {
          sending.current = null;
          tried.current = "{}";
        },
        (failure: unknown) => {
          sending.current = null;
          if (failure instanceof ApiError) return;
          // Under the same key, so that it is saved once if it came through after all.
          setTimeout(() => {
            if (tried.current === text) tried.current = "{}";
            setTries((before) => before + 1);
          }, AGAIN_MS);
        },
      );
  });

  const isOfNow = save.variables?.text === text;
  const isRefused = save.error instanceof ApiError && save.error.status === 400;
  return {
    /** To be told when a field is left. */
    onLeave: () => {
      if (isOn) setLeft(text);
    },
    /** What is under way, which another save has to wait for; null for nothing. */
    pending: () => sending.current,
    refused: isOn && isRefused && isOfNow ? (save.error as ApiError).fields : bareOf<string>([]),
    /** What became of it; null where there is nothing to say. */
    says: !isOn
      ? null
      : save.isPending
        ? "Saving …"
        : save.isError && isOfNow
          ? isRefused
            ? "Not saved: look at the fields."
            : save.error instanceof ApiError && save.error.status === 412
              ? "Not saved: somebody else changed this record. Save it to compare."
              : "Not saved yet: the server cannot be reached. It is tried again."
          : text !== "{}"
            ? "Not saved yet."
            : save.isSuccess
              ? "Everything is saved."
              : "What you change is saved by itself.",
  };
}
