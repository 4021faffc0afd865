import { useCallback, useEffect, useRef, useState } from "react";

/** How often a number is written while it is dragged: each time the whole page is put together anew. */
const WRITTEN_MS = 50;

interface Held {
  now: number;
  hold: (value: number) => void;
  /** Holds it, but shows it a little later where it was shown just before. */
  holdSoon: (value: number) => void;
  letGo: () => void;
}

/**
 * A value under the hand, shown at once: what it changes is told to the page at a beat. What the page says
 * since takes its place.
 */
export function useHeld(value: number): Held {
  const [held, setHeld] = useState<{ value: number; over: number } | null>(null);
  const written = useRef(0);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const put = useCallback((next: { value: number; over: number } | null) => {
    clearTimeout(timer.current);
    written.current = performance.now();
    setHeld(next);
  }, []);
  useEffect(() => () => clearTimeout(timer.current), []);
  return {
    now: held?.over === value ? held.value : value,
    hold: (next) => put({ value: next, over: value }),
    holdSoon: (next) => {
      clearTimeout(timer.current);
      const wait = written.current + WRITTEN_MS - performance.now();
      timer.current = setTimeout(() => put({ value: next, over: value }), Math.max(0, wait));
    },
    letGo: () => put(null),
  };
}
