import { useEffect, useRef } from "react";

const PAUSE_MS = 300;

/** Writes a text down a moment after it changed last, and before the page goes. */
export function useWrittenSoon(text: string, write: (text: string) => void) {
  const latest = useRef(write);
  useEffect(() => {
    latest.current = write;
  });
  useEffect(() => {
    const now = () => {
      latest.current(text);
    };
    const timer = setTimeout(now, PAUSE_MS);
    window.addEventListener("pagehide", now);
    return () => {
      clearTimeout(timer);
      window.removeEventListener("pagehide", now);
    };
  }, [text]);
}
